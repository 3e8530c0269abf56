<script setup lang="ts">
// A labelled field for a line of text, with what is wrong with it under it. Attributes go to the input.
import { useId } from 'vue'
import ErrorText from './ErrorText.vue'

defineProps<{ label: string; wrong?: string; name: string; type?: string }>()
defineOptions({ inheritAttrs: false })
const value = defineModel<string>({ required: true })
const wrongId = useId()
</script>

<template>
  <div :class="$attrs.class as string">
    <label class="block">
      <span class="label-text">{{ label }}</span>
      <input
        v-model="value"
        :aria-invalid="!!wrong"
        v-bind="{ autocomplete: 'off', ...$attrs, class: undefined }"
        class="field mt-1"
        :name="name"
        :type="type ?? 'text'"
        :aria-describedby="wrong ? wrongId : undefined"
      />
    </label>
    <ErrorText :id="wrongId" :text="wrong" :data-test="`wrong-${name}`" />
  </div>
</template>
