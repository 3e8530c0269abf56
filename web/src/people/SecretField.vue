<script setup lang="ts">
// A field of a form, with what is wrong with it under it.
defineProps<{ label: string; wrong?: string; type?: string }>()
defineOptions({ inheritAttrs: false })
const value = defineModel<string>({ required: true })
</script>

<template>
  <label class="block"
    ><span class="label-text">{{ label }}</span
    ><input v-model="value" v-bind="$attrs" class="field mt-1" :type="type ?? 'text'" :aria-invalid="!!wrong" /><span
      v-if="wrong"
      class="block font-semibold text-wrong"
      role="alert"
      >{{ wrong }}</span
    ></label
  >
</template>
