<script setup lang="ts">
// What the tool shows against the window it has to end in.
import type { Schemas } from '../api/client'
import type { Live } from '../api/live'

const props = defineProps<{ target: Schemas['StageTarget']; live: Live | null }>()
const FULL = 1.25
const at = (value: number) => `${Math.min(100, Math.max(0, (value / (props.target.wanted * FULL)) * 100))}%`
const colours = { low: 'bg-dim', good: 'bg-ink', over: 'bg-wrong' } as const
</script>

<template>
  <div class="relative h-7 border-b-2 border-ink" aria-hidden="true">
    <div v-if="live" class="absolute bottom-0 h-5" :class="colours[live.verdict]" :style="{ width: at(live.value) }" />
    <div
      class="absolute bottom-0 h-7 border-x-2 border-layout bg-layout/20"
      :style="{ left: at(target.low), right: `calc(100% - ${at(target.high)})` }"
    />
  </div>
</template>
