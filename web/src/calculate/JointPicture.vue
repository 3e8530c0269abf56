<script setup lang="ts">
// What a joint does once it is tight, drawn in the proportions of what is typed.
import { computed } from 'vue'
import { shown, unit, words, type Values } from './fields'
import { t } from './texts'

const props = defineProps<{ name: string; input: Values; result?: Record<string, unknown> }>()
const n = (key: string, usual = 0) => (typeof props.input[key] === 'number' ? (props.input[key] as number) : usual)
const r = (key: string) => (typeof props.result?.[key] === 'number' ? (props.result[key] as number) : 0)
const label = (key: string, value: number) => `${shown(value, key)} ${unit(key)}`

/** Force over length: the bolt's line rises, that of the parts falls; the load stands between them. */
const diagram = computed(() => {
  const [preload, axial] = [n('preload_kn', 1), n('axial_kn', 1)]
  const [bolt, parts] = [n('bolt_resilience_mm_per_n', 1), n('part_resilience_mm_per_n', 1)]
  const most = Math.max(preload + r('bolt_share_kn'), axial) * 1.15
  const wide = preload * (bolt + parts)
  const x = (kn: number) => 40 + ((kn * bolt) / wide) * 240
  const y = (kn: number) => 170 - (kn / most) * 150
  const at = x(preload + r('bolt_share_kn'))
  return {
    top: [x(preload), y(preload)],
    end: 40 + 240,
    at,
    bolt: y(preload + r('bolt_share_kn')),
    clamp: y(Math.max(0, r('clamp_kn'))),
    preload,
    axial,
  }
})
const growth = computed(() => {
  const grows = [r('part_growth_mm'), r('bolt_growth_mm')]
  const most = Math.max(...grows.map(Math.abs), 1e-9)
  return [t('common-parts'), t('common-bolt')].map((of, at) => ({ of, mm: grows[at]!, long: (grows[at]! / most) * 50 }))
})
const amounts = computed(() =>
  Array.isArray(props.input.amounts_um)
    ? (props.input.amounts_um as unknown[]).filter((of): of is number => typeof of === 'number')
    : [],
)
const face = computed(() => ({
  outer: n('outer_mm', 16),
  hole: n('hole_mm', 11),
  washer: n('washer_mm'),
  spread: r('spread_mm'),
}))
const widest = computed(() => Math.max(face.value.outer, face.value.washer))
/** The load of a bolt over the speed: it grows with its square. */
const speed = computed(() => {
  const [at, most] = [n('speed_rpm', 1), n('speed_rpm', 1) * 1.25]
  const x = (rpm: number) => 40 + (rpm / most) * 250
  const y = (kn: number) => 170 - (kn / (r('per_bolt_kn') * 1.5625 || 1)) * 150
  const points = Array.from({ length: 26 }, (_, step) => (most * step) / 25).map(
    (rpm) => `${x(rpm)},${y(r('per_bolt_kn') * (rpm / at) ** 2)}`,
  )
  return { points: points.join(' '), x: x(at), y: y(r('per_bolt_kn')), at }
})
const ink = { fill: 'none', stroke: 'var(--ink)' }
const text = { stroke: 'none', fill: 'var(--ink)', 'font-size': 13 }
</script>

<template>
  <svg
    v-if="name === 'working-load'"
    viewBox="0 0 380 200"
    class="block max-h-64 w-full"
    role="img"
    :aria-label="t('calculate-force-of-bolt-and-parts-over')"
    v-bind="ink"
    data-test="picture"
  >
    <path :d="`M40 170H300M40 170V12`" />
    <path :d="`M40 170L${diagram.top[0]} ${diagram.top[1]}L${diagram.end} 170`" stroke-width="2" />
    <line
      :x1="diagram.at"
      x2="282"
      :y1="Number(diagram.top[1])"
      :y2="Number(diagram.top[1])"
      stroke="var(--layout)"
      stroke-opacity="0.5"
    />
    <line x1="40" :x2="diagram.top[0]" :y1="diagram.top[1]" :y2="diagram.top[1]" stroke-dasharray="4 4" />
    <line :x1="diagram.top[0]" :y1="diagram.top[1]" :x2="diagram.at" :y2="diagram.bolt" stroke-width="2" />
    <line
      :x1="diagram.at"
      :x2="diagram.at"
      :y1="diagram.bolt"
      :y2="diagram.clamp"
      stroke="var(--layout)"
      stroke-width="4"
    />
    <text v-bind="text" x="46" :y="Number(diagram.top[1]) - 5">{{ t('calculate-preload') }}</text>
    <text v-bind="text" x="288" :y="Number(diagram.top[1]) + 4" fill="var(--layout)">
      {{ t('calculate-load', { label: label('axial_kn', diagram.axial) }) }}
    </text>
    <text v-bind="text" x="288" :y="Number(diagram.top[1]) + 22">
      {{ t('calculate-clamps', { label: label('clamp_kn', r('clamp_kn')) }) }}
    </text>
    <text v-bind="text" x="300" y="187" text-anchor="end">{{ t('calculate-change-of-length') }}</text>
    <text v-bind="text" x="4" y="22">{{ t('calculate-force') }}</text>
  </svg>
  <svg
    v-else-if="name === 'thermal-load'"
    viewBox="0 0 380 190"
    class="block max-h-56 w-full"
    role="img"
    :aria-label="t('calculate-how-much-longer-bolt-and-parts')"
    v-bind="ink"
    data-test="picture"
  >
    <g v-for="(of, at) in growth" :key="of.of">
      <rect :x="60 + at * 130" y="70" width="90" height="90" fill="var(--face)" />
      <rect
        :x="60 + at * 130"
        :y="70 - Math.max(0, of.long)"
        width="90"
        :height="Math.abs(of.long)"
        fill="var(--layout)"
        fill-opacity="0.3"
        stroke="var(--layout)"
      />
      <text v-bind="text" :x="105 + at * 130" y="178" text-anchor="middle">
        {{ t('calculate-um', { of: of.of, value: of.mm < 0 ? '−' : '+', mm: Math.abs(of.mm * 1000).toFixed(0) }) }}
      </text>
    </g>
    <line x1="40" x2="330" y1="70" y2="70" stroke-dasharray="4 4" />
  </svg>
  <svg
    v-else-if="name === 'embedding'"
    :viewBox="`0 0 380 ${amounts.length * 24 + 10}`"
    class="block max-h-56 w-full"
    role="img"
    :aria-label="t('calculate-what-settles-at-each-face')"
    v-bind="ink"
    data-test="picture"
  >
    <g v-for="(um, at) in amounts" :key="at">
      <rect
        x="40"
        :y="at * 24 + 6"
        :width="(um / Math.max(...amounts)) * 240"
        height="14"
        fill="var(--layout)"
        fill-opacity="0.3"
        stroke="var(--layout)"
      />
      <text v-bind="text" x="20" :y="at * 24 + 18">{{ at + 1 }}</text>
      <text v-bind="text" :x="48 + (um / Math.max(...amounts)) * 240" :y="at * 24 + 18">
        {{ t('calculate-um-2', { um }) }}
      </text>
    </g>
  </svg>
  <svg
    v-else-if="name === 'surface-pressure'"
    :viewBox="`${-widest * 0.7} ${-widest * 0.6} ${widest * 1.4} ${widest * 1.2}`"
    class="block max-h-52 w-full"
    role="img"
    :aria-label="
      face.spread ? t('calculate-the-ring-under-the-head-and') : t('calculate-the-ring-that-carries-the-load')
    "
    v-bind="ink"
    data-test="picture"
  >
    <circle v-if="face.washer" :r="face.washer / 2" fill="var(--face)" stroke-dasharray="4 3" />
    <circle v-if="face.spread" :r="face.spread / 2" fill="var(--layout)" fill-opacity="0.12" stroke="var(--layout)" />
    <circle :r="face.outer / 2" fill="var(--layout)" fill-opacity="0.25" stroke="var(--layout)" />
    <circle :r="face.hole / 2" fill="var(--plate)" />
    <path :d="`M${-face.outer / 2} 0H${-face.hole / 2}M${face.hole / 2} 0H${face.outer / 2}`" stroke-dasharray="3 2" />
  </svg>
  <svg
    v-else-if="name === 'rod-bolt-load'"
    viewBox="0 0 380 200"
    class="block max-h-64 w-full"
    role="img"
    :aria-label="t('calculate-the-load-of-one-bolt-over')"
    v-bind="ink"
    data-test="picture"
  >
    <path d="M40 170H300M40 170V12" />
    <polyline :points="speed.points" stroke="var(--layout)" stroke-width="2.5" />
    <line :x1="speed.x" :x2="speed.x" :y1="speed.y" y2="170" stroke-dasharray="4 4" />
    <circle :cx="speed.x" :cy="speed.y" r="5" fill="var(--layout)" stroke="none" />
    <text v-bind="text" :x="speed.x - 10" :y="speed.y - 8" text-anchor="end">
      {{ label('per_bolt_kn', r('per_bolt_kn')) }}
    </text>
    <text v-bind="text" :x="speed.x" y="187" text-anchor="middle">{{ label('speed_rpm', speed.at) }}</text>
    <text v-bind="text" x="4" y="22">{{ words('load') }}</text>
  </svg>
</template>

<style scoped>
/* Lines are as thin on a large part as on a small one. */
svg * {
  vector-effect: non-scaling-stroke;
}
</style>
