<script setup lang="ts">
// Takes one entry back: it is voided with a reason and stays readable.
import { ref } from 'vue'
import { useHand } from './hand'
import ReasonDialog from '../ui/ReasonDialog.vue'

const props = withDefaults(defineProps<{ seq: number; about: string; usual?: string[]; label?: string }>(), {
  usual: () => ['Entered by mistake'],
  label: 'Void',
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
  <button class="quiet-key px-2 py-1" :aria-label="`${label} entry ${seq}`" @click="open = true">{{ label }}</button>
  <ReasonDialog
    :open="open"
    :title="label === 'Void' ? 'Void an entry' : label"
    :about="`${about}, entry ${seq}. It stays on the record and no longer counts.`"
    action="Void"
    :usual="usual"
    @close="open = false"
    @reason="voidIt"
  />
</template>
