<script setup lang="ts">
// The working time of a sealant: how long everything may still take (C-19). It warns by sight and by ear.
import { useNow } from '@vueuse/core'
import { computed, watch } from 'vue'
import type { Schemas } from '../api/client'
import { playVerdict } from './sound'
import { t } from './texts'

const props = defineProps<{ clock: Schemas['SealantTimer']; build: string; here?: boolean }>()
const now = useNow({ interval: 1000 })
const seconds = computed(() => Math.round((Date.parse(props.clock.until) - now.value.getTime()) / 1000))
const state = computed(() =>
  seconds.value <= 0 ? 'over' : now.value.getTime() >= Date.parse(props.clock.late) ? 'low' : 'good',
)
const text = computed(() => {
  const left = Math.abs(seconds.value)
  return `${Math.floor(left / 60)}:${String(left % 60).padStart(2, '0')}`
})
/** How much of it has gone, in percent. */
const gone = computed(() => {
  const [since, until] = [Date.parse(props.clock.since), Date.parse(props.clock.until)]
  return Math.min(100, Math.max(0, ((now.value.getTime() - since) / (until - since)) * 100))
})
watch(state, (is, was) => was !== is && is !== 'good' && playVerdict(is))
</script>

<template>
  <div class="no-print mt-2" role="timer" data-test="clock" :data-state="state">
    <p class="flex flex-wrap items-baseline gap-x-3 text-xl" :class="state !== 'good' && 'font-semibold text-wrong'">
      <span v-if="state !== 'good'" aria-hidden="true">▲</span>
      <span>{{ clock.name }}</span>
      <RouterLink
        v-if="!here"
        :to="`/engines/${build}/bench/${clock.operation}`"
        class="underline underline-offset-4"
        >{{ clock.operation_name }}</RouterLink
      >
      <span class="ml-auto text-3xl font-semibold tabular-nums">{{ text }}</span>
      <span>{{ state === 'over' ? t('ui-time-is-up') : t('ui-left') }}</span>
    </p>
    <div class="h-1.5 border border-rule" aria-hidden="true">
      <div class="h-full" :class="state === 'good' ? 'bg-layout' : 'bg-wrong'" :style="{ width: `${gone}%` }" />
    </div>
  </div>
</template>
