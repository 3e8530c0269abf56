<script setup lang="ts">
// What ends a dialog: doing what it is for, or leaving all as it was. Other keys go before them.
import ErrorText from './ErrorText.vue'
import { t } from './texts'

defineProps<{
  /** What the main key does. */
  action: string
  error?: string
  disabled?: boolean
  /** Whether it stays in view where the dialog is long. */
  sticky?: boolean
  /** The name of the main key for tests. */
  test?: string
}>()
defineEmits<{ close: [] }>()
defineOptions({ inheritAttrs: false })
</script>

<template>
  <ErrorText :text="error" />
  <div class="flex flex-wrap justify-end gap-3" :class="[sticky && 'sticky bottom-0 bg-face pt-2', $attrs.class]">
    <slot />
    <button type="button" class="key" @click="$emit('close')">{{ t('common-cancel') }}</button>
    <button type="submit" class="key key-main" :disabled="disabled" :data-test="test">{{ action }}</button>
  </div>
</template>
