<script setup lang="ts">
// Taking a joint apart: which fastener comes loose next (C-17).
import { useEventListener } from '@vueuse/core'
import type { Schemas } from '../api/client'
import { vFocus } from '../ui/focus'
import { useHand } from './hand'

const props = defineProps<{ step: Schemas['LoosenStep']; selected: string | null; left: number }>()
const emit = defineEmits<{ done: [] }>()
const { bench, busy, act } = useHand()

async function loose(rest: boolean) {
  const { joint } = props.step
  const fastener = (!rest && props.selected) || props.step.fastener
  if (await act({ type: 'loosen', operation: bench.value.operation.id, joint, fastener, rest })) emit('done')
}

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const at = event.target as HTMLElement
  if (event.key !== 'Enter' || event.repeat || event.ctrlKey || event.metaKey || at.closest('button, a, [role=dialog]')) return
  void loose(false)
})
</script>

<template>
  <p class="text-xl text-dim">Loosen {{ step.group }}</p>
  <p class="far" data-test="fastener">{{ selected ?? step.fastener }}</p>
  <p v-if="selected" class="font-medium text-wrong">{{ step.fastener }} is next. {{ selected }} is kept as out of order.</p>
  <p class="text-xl">In the reverse order, a little at first, so that nothing warps.</p>
  <button v-focus class="key key-main min-h-20 text-3xl" :disabled="busy" data-test="loose" @click="loose(false)">It is loose</button>
  <button v-if="left > 1 && !selected" class="key" :disabled="busy" data-test="all-loose" @click="loose(true)">All {{ left }} that are left are loose, in this order</button>
</template>
