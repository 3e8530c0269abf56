<script setup lang="ts" generic="Value extends string">
// One of a few answers, each a key; the chosen one is framed.
defineProps<{
  options: readonly { value: Value; name: string }[]
  label: string
  /** What the names of its keys for tests begin with. */
  test: string
}>()
const chosen = defineModel<Value>({ required: true })
</script>

<template>
  <div class="flex flex-wrap gap-2" role="group" :aria-label="label">
    <button
      v-for="of in options"
      :key="of.value"
      type="button"
      class="key leading-tight"
      :class="of.value === chosen && 'border-4! border-layout'"
      :aria-pressed="of.value === chosen"
      :data-test="`${test}-${of.value}`"
      @click="chosen = of.value"
    >
      {{ of.name }}
    </button>
  </div>
</template>
