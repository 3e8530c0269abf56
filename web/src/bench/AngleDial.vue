<script setup lang="ts">
// An angle of turn for whatever is on the bar: where the mark ends on the clock, the stop reading
// for a start reading, flats and points.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '../api/client'
import { t } from './texts'

/** `from` is where the painted line stands on the clock now, in degrees from twelve (C-65). */
const props = defineProps<{ angle: number; from: number; live: number | null }>()
/** What the gauge on the bar shows before the turn. */
const start = defineModel<string>('start', { required: true })
/** Whether its figures fall while the wrench tightens. */
const down = defineModel<boolean>('down', { required: true })

const input = computed(() => ({
  start_deg: Number(start.value.replace(',', '.')) || 0,
  angle_deg: props.angle,
  wrap: true,
  direction: down.value ? 'down' : 'up',
  mark_deg: props.from,
}))
const { data: reading } = useQuery({
  queryKey: ['angle-reading', input],
  queryFn: async () =>
    take(await api.POST('/api/calc/{name}', { params: { path: { name: 'angle-reading' } }, body: input.value })) as {
      stop_deg: number
      clock: string
      flats: number
      points: number
    },
  placeholderData: (previous) => previous,
})
/** The sector from where the mark stands to where it must end, for angles below a whole turn. */
const sector = computed(() => {
  const end = ((props.angle % 360) * Math.PI) / 180
  return `M0 0V-40A40 40 0 ${props.angle % 360 > 180 ? 1 : 0} 1 ${40 * Math.sin(end)} ${-40 * Math.cos(end)}Z`
})
</script>

<template>
  <div class="grid grid-cols-[auto_1fr] items-center gap-4">
    <svg
      viewBox="-50 -50 100 100"
      class="size-28"
      role="img"
      :aria-label="t('bench-the-mark-ends-at', { clock: reading?.clock ?? '' })"
    >
      <circle r="46" fill="var(--face)" stroke="var(--ink)" stroke-width="1.5" />
      <path :d="sector" :transform="`rotate(${from})`" fill="var(--layout)" opacity="0.22" />
      <line
        v-for="h in 12"
        :key="h"
        y1="-46"
        :y2="h % 3 === 0 ? -37 : -41"
        :transform="`rotate(${h * 30})`"
        stroke="var(--ink)"
        stroke-width="1.5"
      />
      <line y2="-40" :transform="`rotate(${from})`" stroke="var(--dim)" stroke-width="1.5" stroke-dasharray="3 3" />
      <line
        y2="-42"
        :transform="`rotate(${from + angle})`"
        stroke="var(--layout)"
        stroke-width="4"
        stroke-linecap="round"
      />
      <line
        v-if="live !== null"
        y2="-44"
        :transform="`rotate(${from + live})`"
        stroke="var(--paint)"
        stroke-width="5"
        stroke-linecap="round"
      />
      <circle r="4" fill="var(--ink)" />
    </svg>
    <dl class="grid grid-cols-[auto_1fr] gap-x-4 leading-snug">
      <dt class="text-dim">{{ t('bench-mark-ends-at') }}</dt>
      <dd class="text-2xl font-semibold" data-test="clock">{{ reading?.clock }}</dd>
      <dt class="text-dim">{{ t('bench-flats-points') }}</dt>
      <dd>{{ reading?.flats.toFixed(2) }}, {{ reading?.points.toFixed(2) }}</dd>
      <dt class="text-dim">
        <label for="start-reading">{{ t('bench-start-angle') }}</label>
      </dt>
      <dd class="flex items-center gap-2">
        <input
          id="start-reading"
          v-model="start"
          placeholder="0"
          inputmode="decimal"
          autocomplete="off"
          class="w-16 border-b border-ink bg-transparent max-sm:min-h-11"
          @keydown.enter.stop
        />
        <button
          type="button"
          class="px-2 text-dim underline max-sm:min-h-11"
          :aria-label="down ? t('bench-the-gauge-counts-down') : t('bench-the-gauge-counts-up')"
          @click="down = !down"
        >
          <span class="max-sm:hidden">{{ t('bench-counts') }}{{ ' ' }}</span
          >{{ down ? t('bench-down') : t('bench-up') }}
        </button>
      </dd>
      <dt class="text-dim">{{ t('bench-stop-at') }}</dt>
      <dd class="text-2xl font-semibold" data-test="stop">{{ reading?.stop_deg.toFixed(0) }}°</dd>
    </dl>
  </div>
</template>
