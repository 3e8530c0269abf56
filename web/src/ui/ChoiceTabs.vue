<script setup lang="ts" generic="Value extends string">
// One of several views of the same thing, as tabs.
defineProps<{
  options: readonly { value: Value; name: string }[]
  label: string
  /** What the names of its keys for tests begin with. */
  test: string
}>()
const chosen = defineModel<Value>({ required: true })
</script>

<template>
  <div class="flex flex-wrap gap-x-5" role="group" :aria-label="label">
    <button
      v-for="of in options"
      :key="of.value"
      type="button"
      class="-mb-px min-h-11 border-b-4 px-1 text-lg"
      :class="of.value === chosen ? 'border-layout font-semibold' : 'border-transparent text-dim'"
      :aria-pressed="of.value === chosen"
      :data-test="`${test}-${of.value || 'all'}`"
      @click="chosen = of.value"
    >
      <bdi>{{ of.name }}</bdi>
    </button>
  </div>
</template>
