<script setup lang="ts">
// The clamp load of one bolt by torque, by angle and by stretch: how often each load is reached, against the load that
// is wanted and the one where it yields (M-17).
import { useMediaQuery } from '@vueuse/core'
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { figure } from './units'
import { t } from './texts'

const props = defineProps<{ load: Schemas['ClampLoad'] }>()
const [LEFT, ROW, GAP] = [12, 92, 30]
const narrow = useMediaQuery('(max-width: 640px)')
/** Drawn to fewer units where it is narrow, so that its words stay large. */
const WIDTH = computed(() => (narrow.value ? 360 : 620))
const names: Record<string, string> = {
  torque: t('ui-by-torque'),
  angle: t('ui-by-angle'),
  stretch: t('ui-by-stretch'),
}
const ends = computed(() => {
  const all = props.load.ways.flatMap((way) => [way.range_kn[0]!, way.range_kn[2]!])
  const [low, high] = [Math.min(...all, props.load.wanted_kn), Math.max(...all, props.load.yield_kn)]
  const pad = (high - low) * 0.06
  return { low: Math.max(0, low - pad), high: high + pad }
})
const x = (kn: number) => LEFT + ((WIDTH.value - 2 * LEFT) * (kn - ends.value.low)) / (ends.value.high - ends.value.low)
const base = (row: number) => 34 + row * (ROW + GAP) + ROW
/** Each way is drawn to its own height, but for the narrow ones: they stand as high as the widest two together. */
const rows = computed(() =>
  props.load.ways.map((way, row) => {
    const peak = Math.max(...way.curve.map((point) => point.density), 1e-9)
    const y = (density: number) => base(row) - Math.min(1, density / peak) * ROW
    const line = way.curve.map((point) => `${x(point.kn)},${y(point.density)}`).join(' ')
    const step = (way.drawn[1]?.kn ?? 0) - (way.drawn[0]?.kn ?? 0)
    const bars = way.drawn.map((point) => ({
      x: x(point.kn - step / 2),
      width: x(point.kn + step / 2) - x(point.kn - step / 2),
      y: y(point.density),
    }))
    return { way, row, line: `${x(way.range_kn[0]!)},${base(row)} ${line} ${x(way.range_kn[2]!)},${base(row)}`, bars }
  }),
)
const height = computed(() => base(props.load.ways.length - 1) + 40)
const target = (way: Schemas['MethodLoad']) => {
  if (way.way === 'torque') return figure(way.target, 'torque')
  if (way.way === 'angle')
    return t('ui-snug-and-angle', { snug: figure(way.snug_nm ?? 0, 'torque'), angle: figure(way.target, 'angle') })
  return figure(way.target, 'clearance')
}
const percent = (kn: number) =>
  `${kn < props.load.wanted_kn ? '−' : '+'}${Math.abs(Math.round((kn / props.load.wanted_kn - 1) * 100))} %`
const ticks = computed(() => {
  const step =
    [1, 2, 5, 10, 20, 50].find((each) => (ends.value.high - ends.value.low) / each < (narrow.value ? 5 : 9)) ?? 100
  const first = Math.ceil(ends.value.low / step)
  return Array.from({ length: Math.floor(ends.value.high / step) - first + 1 }, (_, at) => (first + at) * step)
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDTH} ${height}`"
    class="block w-full"
    role="img"
    :aria-label="t('ui-how-the-clamp-load-of-the')"
  >
    <line
      :x1="x(load.wanted_kn)"
      :x2="x(load.wanted_kn)"
      y1="22"
      :y2="height - 26"
      stroke="var(--layout)"
      stroke-width="2"
    />
    <text :x="x(load.wanted_kn)" y="16" text-anchor="end" dx="4" font-size="14" fill="var(--layout)">
      {{ t('ui-target', { wanted_kn: figure(load.wanted_kn, 'force') }) }}
    </text>
    <line
      :x1="x(load.yield_kn)"
      :x2="x(load.yield_kn)"
      y1="22"
      :y2="height - 26"
      stroke="var(--wrong)"
      stroke-width="2"
      stroke-dasharray="7 4"
    />
    <text
      :x="x(load.yield_kn)"
      y="16"
      :dx="x(load.yield_kn) > WIDTH - 60 ? -6 : 10"
      :text-anchor="x(load.yield_kn) > WIDTH - 60 ? 'end' : 'start'"
      font-size="14"
      fill="var(--wrong)"
    >
      {{ t('ui-yield') }}
    </text>
    <g v-for="{ way, row, line, bars } in rows" :key="way.way">
      <rect
        v-for="(bar, at) in bars"
        :key="at"
        :x="bar.x"
        :width="Math.max(0, bar.width)"
        :y="bar.y"
        :height="base(row) - bar.y"
        fill="var(--dim)"
        opacity="0.22"
      />
      <polygon :points="line" fill="var(--layout)" opacity="0.16" />
      <polyline :points="line" fill="none" stroke="var(--layout)" stroke-width="2" />
      <line :x1="LEFT" :x2="WIDTH - LEFT" :y1="base(row)" :y2="base(row)" stroke="var(--ink)" />
      <line
        :x1="x(way.within_kn[0]!)"
        :x2="x(way.within_kn[1]!)"
        :y1="base(row)"
        :y2="base(row)"
        stroke="var(--ink)"
        stroke-width="5"
      />
      <text :x="LEFT" :y="base(row) - ROW + 14" font-size="17" font-weight="600" fill="var(--ink)" class="clear">
        {{ names[way.way] }}
      </text>
      <text :x="LEFT" :y="base(row) - ROW + 33" font-size="14" fill="var(--dim)" class="clear">
        {{ target(way) }}
      </text>
      <text
        :x="WIDTH - LEFT"
        :y="base(row) - ROW + 14"
        text-anchor="end"
        font-size="15"
        fill="var(--ink)"
        class="clear"
        :data-test="`within-${way.way}`"
      >
        {{ t('ui-to', { low: percent(way.within_kn[0]!), high: percent(way.within_kn[1]!) }) }}
      </text>
      <text
        v-if="way.past_yield > 0.0005"
        :x="WIDTH - LEFT"
        :y="base(row) - ROW + 33"
        text-anchor="end"
        font-size="14"
        font-weight="600"
        fill="var(--wrong)"
      >
        {{ t('ui-past-yield', { past_yield: (way.past_yield * 100).toFixed(1) }) }}
      </text>
    </g>
    <text
      v-for="tick in ticks"
      :key="tick"
      :x="x(tick)"
      :y="height - 8"
      text-anchor="middle"
      font-size="13"
      fill="var(--dim)"
    >
      {{ figure(tick, 'force') }}
    </text>
  </svg>
</template>

<style scoped>
/* Words stay readable over a line. */
.clear {
  paint-order: stroke;
  stroke: var(--plate);
  stroke-width: 5px;
  stroke-linejoin: round;
}
</style>
