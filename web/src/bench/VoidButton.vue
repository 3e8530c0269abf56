<script setup lang="ts">
// Takes one entry back: it is voided with a reason and stays readable.
import { ref } from 'vue'
import { useHand } from './hand'
import ReasonDialog from '../ui/ReasonDialog.vue'
import { t } from './texts'

const props = withDefaults(defineProps<{ seq: number; about: string; usual?: string[]; label?: string }>(), {
  usual: () => [t('common-entered-by-mistake')],
  label: '',
})
const { act } = useHand()
const open = ref(false)

async function voidIt(reason: string) {
  open.value = false
  await act({ type: 'void', seq: props.seq, reason })
}
defineExpose({ ask: () => (open.value = true) })
</script>

<template>
  <button
    class="quiet-key px-2 py-1"
    :aria-label="t('bench-entry-3', { label: label || t('common-void'), seq })"
    @click="open = true"
  >
    {{ label || t('common-void') }}
  </button>
  <ReasonDialog
    :open="open"
    :title="label || t('bench-void-an-entry')"
    :about="t('bench-entry-it-stays-on-the-record', { about, seq })"
    :action="t('common-void')"
    :usual="usual"
    @close="open = false"
    @reason="voidIt"
  />
</template>
