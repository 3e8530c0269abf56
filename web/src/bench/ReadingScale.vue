<script setup lang="ts">
// What the tool shows against the window it has to end in.
import { computed } from 'vue'

const props = defineProps<{ low: number; high: number; target: number; value: number | null }>()
const FULL = 1.25
const at = (value: number) => `${Math.min(100, Math.max(0, (value / (props.target * FULL)) * 100))}%`
const verdict = computed(() => {
  if (props.value === null) return 'none'
  return props.value > props.high ? 'over' : props.value >= props.low ? 'good' : 'low'
})
</script>

<template>
  <div class="relative h-7 border-b-2 border-ink" aria-hidden="true">
    <div
      class="absolute bottom-0 h-5"
      :class="verdict === 'over' ? 'bg-wrong' : verdict === 'good' ? 'bg-paint' : 'bg-dim'"
      :style="{ width: value === null ? '0' : at(value) }"
    />
    <div class="absolute bottom-0 h-7 border-x-2 border-layout bg-layout/20" :style="{ left: at(low), right: `calc(100% - ${at(high)})` }" />
  </div>
</template>
