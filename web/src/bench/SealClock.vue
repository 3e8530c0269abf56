<script setup lang="ts">
// The working time of a sealant: how long everything may still take (C-19).
import { useNow } from '@vueuse/core'
import { computed, watch } from 'vue'
import type { Schemas } from '../api/client'
import { playVerdict } from '../ui/sound'

const props = defineProps<{ clock: Schemas['Clock'] }>()
const now = useNow({ interval: 1000 })
const seconds = computed(() => Math.round((Date.parse(props.clock.until) - now.value.getTime()) / 1000))
const state = computed(() => (seconds.value <= 0 ? 'over' : now.value.getTime() >= Date.parse(props.clock.late) ? 'low' : 'good'))
const text = computed(() => {
  const left = Math.abs(seconds.value)
  return `${Math.floor(left / 60)}:${String(left % 60).padStart(2, '0')}`
})
watch(state, (is, was) => was !== is && is !== 'good' && playVerdict(is))
</script>

<template>
  <p class="flex items-baseline gap-3 text-xl" :class="state !== 'good' && 'font-semibold text-wrong'" role="timer" data-test="clock">
    <span aria-hidden="true">{{ state === 'good' ? '' : '▲' }}</span>
    <span>{{ clock.name }}</span>
    <span class="ml-auto text-3xl font-semibold tabular-nums">{{ text }}</span>
    <span>{{ state === 'over' ? 'too late' : 'left' }}</span>
  </p>
</template>
