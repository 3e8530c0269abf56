<script setup lang="ts">
// Takes one entry back: it is voided with a reason and stays readable.
import { ref } from 'vue'
import type { Do } from '../api/outbox'
import ReasonDialog from './ReasonDialog.vue'

const props = withDefaults(
  defineProps<{ seq: number; about: string; act: (what: Do) => Promise<boolean>; usual?: string[]; label?: string }>(),
  { usual: () => ['Entered wrong'], label: 'Void' },
)
const open = ref(false)

async function voidIt(reason: string) {
  open.value = false
  await props.act({ type: 'void', seq: props.seq, reason })
}
</script>

<template>
  <button class="px-2 py-1 text-dim underline underline-offset-2" :aria-label="`${label} entry ${seq}`" @click="open = true">{{ label }}</button>
  <ReasonDialog
    :open="open"
    :title="label === 'Void' ? 'Void an entry' : label"
    :about="`${about}, entry ${seq}. It stays readable and no longer counts.`"
    action="Void it"
    :usual="usual"
    @close="open = false"
    @reason="voidIt"
  />
</template>
