<script setup lang="ts">
// Crank, cam, lash and rings, drawn in the proportions of what is typed.
import { computed } from 'vue'
import { figure } from '../ui/units'
import { shown, unit, type Values } from './fields'
import { t } from './texts'

const props = defineProps<{ name: string; input: Values; result?: Record<string, unknown> }>()
const n = (key: string, usual = 0) => (typeof props.input[key] === 'number' ? (props.input[key] as number) : usual)
const label = (key: string, value: number) => `${shown(value, key)} ${unit(key)}`

/** A point on a circle; 0° is up, on clockwise. */
const on = (radius: number, degrees: number): [number, number] => {
  const angle = (degrees * Math.PI) / 180
  return [radius * Math.sin(angle), -radius * Math.cos(angle)]
}
const arc = (radius: number, from: number, to: number) =>
  `M${on(radius, from)}A${radius} ${radius} 0 ${to - from > 180 ? 1 : 0} 1 ${on(radius, to)}`

const crank = computed(() => {
  const [stroke, rod] = [n('stroke_mm', 86), n('rod_mm', 144)]
  const [x, y] = on(stroke / 2, n('angle_deg'))
  const pin = y - Math.sqrt(Math.max(1, rod * rod - x * x))
  return { stroke, rod, x, y, pin, top: -stroke / 2 - rod }
})
const valves = computed(() => [
  {
    side: -1,
    of: t('calculate-exhaust'),
    radius: 52,
    from: 180 - n('exhaust_opens_deg'),
    to: 360 + n('exhaust_closes_deg'),
    color: 'var(--ink)',
  },
  {
    side: 1,
    of: t('calculate-intake'),
    radius: 40,
    from: 360 - n('intake_opens_deg'),
    to: 540 + n('intake_closes_deg'),
    color: 'var(--layout)',
  },
])
const shims = computed(() => [
  { of: t('calculate-before'), shim: n('shim_mm', 2.5), lash: n('measured_mm') },
  {
    of: t('calculate-after'),
    shim: typeof props.result?.shim_mm === 'number' ? props.result.shim_mm : n('shim_mm', 2.5),
    lash: n('wanted_mm'),
  },
])
const gaps = computed(() => (Array.isArray(props.result?.angles_deg) ? (props.result.angles_deg as number[]) : []))
/** Clearance over the crank: what is computed as a line, what was measured as rings. */
const approach = computed(() => {
  const rows = Array.isArray(props.result?.clearances) ? (props.result.clearances as Record<string, number>[]) : []
  const angles = rows.map((row) => row.angle_deg!)
  const heights = rows.flatMap((row) => [row.clearance_mm!, row.measured_mm ?? row.clearance_mm!])
  const [from, to, most] = [Math.min(...angles), Math.max(...angles), Math.max(...heights, 0.1) * 1.15]
  const x = (degrees: number) => 50 + ((degrees - from) / (to - from || 1)) * 250
  const y = (mm: number) => 170 - (mm / most) * 150
  const points = [...rows]
    .sort((a, b) => a.angle_deg! - b.angle_deg!)
    .map((row) => ({
      degrees: row.angle_deg!,
      x: x(row.angle_deg!),
      y: y(row.clearance_mm!),
      measured: row.measured_mm == null ? undefined : y(row.measured_mm),
    }))
  const least = props.result
    ? {
        x: x(Number(props.result.least_at_deg)),
        y: y(Number(props.result.least_mm)),
        mm: Number(props.result.least_mm),
      }
    : undefined
  return { points, least, some: rows.length > 0, measured: points.some((point) => point.measured != null) }
})
/** A view box: left, top, width and height. */
const box = (of: [number, number, number, number]) => of.join(' ')
const ink = { fill: 'none', stroke: 'var(--ink)' }
const text = { stroke: 'none', fill: 'var(--ink)', 'font-size': 8 }
</script>

<template>
  <svg
    v-if="name === 'piston-position'"
    :viewBox="
      box([-crank.stroke * 1.6, crank.top - crank.stroke * 0.35, crank.stroke * 3.2, crank.rod + crank.stroke * 1.5])
    "
    class="block max-h-72 w-full"
    role="img"
    :aria-label="t('calculate-crank-rod-and-piston-at-the')"
    v-bind="ink"
    data-test="picture"
  >
    <circle :r="crank.stroke / 2" stroke-dasharray="4 4" vector-effect="non-scaling-stroke" />
    <line x1="0" y1="0" :x2="crank.x" :y2="crank.y" stroke-width="6" stroke-linecap="round" />
    <line :x1="crank.x" :y1="crank.y" x2="0" :y2="crank.pin" stroke-width="5" stroke-linecap="round" />
    <rect
      :x="-crank.stroke / 2"
      :y="crank.pin - crank.stroke * 0.3"
      :width="crank.stroke"
      :height="crank.stroke * 0.6"
      fill="var(--face)"
      stroke-width="1.5"
    />
    <line
      :x1="-crank.stroke"
      :x2="crank.stroke"
      :y1="crank.top - crank.stroke * 0.3"
      :y2="crank.top - crank.stroke * 0.3"
      stroke="var(--layout)"
      stroke-dasharray="5 4"
    />
    <line
      :x1="crank.stroke * 0.75"
      :x2="crank.stroke * 0.75"
      :y1="crank.top - crank.stroke * 0.3"
      :y2="crank.pin - crank.stroke * 0.3"
      stroke="var(--layout)"
      stroke-width="2.5"
    />
    <circle r="5" fill="var(--face)" />
    <circle :cx="crank.x" :cy="crank.y" r="5" fill="var(--face)" />
    <circle :cy="crank.pin" r="5" fill="var(--face)" />
  </svg>
  <svg
    v-else-if="name === 'cam-timing'"
    viewBox="-110 -74 220 148"
    class="block max-h-72 w-full"
    role="img"
    :aria-label="t('calculate-when-the-valves-are-open-round')"
    v-bind="ink"
    data-test="picture"
  >
    <circle r="60" stroke-opacity="0.4" />
    <path d="M0 -64V64" stroke-dasharray="4 4" />
    <g v-for="of in valves" :key="of.of">
      <path :d="arc(of.radius, of.from, of.to)" :stroke="of.color" stroke-width="6" />
      <text v-bind="text" :x="66 * of.side" y="3" :text-anchor="of.side > 0 ? 'start' : 'end'" :fill="of.color">
        {{ of.of }}
      </text>
    </g>
    <text v-bind="text" x="4" y="-65">{{ t('calculate-top') }}</text>
    <text v-bind="text" x="4" y="72">{{ t('calculate-bottom') }}</text>
  </svg>
  <svg
    v-else-if="name === 'valve-clearance' && approach.some"
    viewBox="0 0 380 205"
    class="block max-h-72 w-full"
    role="img"
    :aria-label="t('calculate-valve-to-piston-over-the-angle')"
    v-bind="ink"
    data-test="picture"
  >
    <path d="M50 170H310M50 170V12" />
    <polyline
      :points="approach.points.map((point) => `${point.x},${point.y}`).join(' ')"
      stroke="var(--layout)"
      stroke-width="2.5"
    />
    <g v-for="point in approach.points" :key="point.degrees">
      <circle v-if="point.measured != null" :cx="point.x" :cy="point.measured" r="5" stroke-width="2" />
      <text v-bind="text" font-size="12" :x="point.x" y="186" text-anchor="middle">
        {{ Math.round(point.degrees * 10) / 10 }}°
      </text>
    </g>
    <g v-if="approach.least">
      <circle :cx="approach.least.x" :cy="approach.least.y" r="5" fill="var(--layout)" stroke="none" />
      <text
        v-bind="text"
        font-size="13"
        font-weight="600"
        :x="Math.min(approach.least.x + 8, 290)"
        :y="approach.least.y + 20"
      >
        {{ figure(approach.least.mm, 'clearance') }}
      </text>
    </g>
    <text v-bind="text" font-size="12" x="50" y="202">
      {{ t('calculate-line-computed') }}
      <template v-if="approach.measured">{{ t('calculate-rings-measured') }}</template>
    </text>
  </svg>
  <svg
    v-else-if="name === 'lash-shim'"
    viewBox="0 0 240 110"
    class="block max-h-52 w-full"
    role="img"
    :aria-label="t('calculate-shim-and-lash-before-and-after')"
    v-bind="ink"
    data-test="picture"
  >
    <g v-for="(of, at) in shims" :key="of.of" :transform="`translate(${30 + at * 105} 0)`">
      <rect x="0" y="40" width="70" :height="of.shim * 18" fill="var(--face)" />
      <rect
        x="0"
        :y="40 - of.lash * 60"
        width="70"
        :height="of.lash * 60"
        fill="var(--layout)"
        fill-opacity="0.3"
        stroke="var(--layout)"
      />
      <text v-bind="text" x="35" y="62" text-anchor="middle">{{ label('shim_mm', of.shim) }}</text>
      <text v-bind="text" x="35" :y="34 - of.lash * 60" text-anchor="middle">
        {{ t('calculate-lash', { of: of.of, label: label('measured_mm', of.lash) }) }}
      </text>
    </g>
  </svg>
  <svg
    v-else-if="name === 'ring-clocking'"
    viewBox="-80 -66 160 132"
    class="block max-h-64 w-full"
    role="img"
    :aria-label="t('calculate-the-piston-from-above-its-axes')"
    v-bind="ink"
    data-test="picture"
  >
    <circle r="50" fill="var(--face)" />
    <path d="M0 -58V58M-58 0H58" stroke-dasharray="5 4" />
    <text v-bind="text" x="3" y="-58">{{ t('calculate-front-pin-axis') }}</text>
    <text v-bind="text" x="60" y="3">{{ t('calculate-thrust') }}</text>
    <g v-for="(angle, at) in gaps" :key="at">
      <line
        :x1="on(44, angle)[0]"
        :y1="on(44, angle)[1]"
        :x2="on(56, angle)[0]"
        :y2="on(56, angle)[1]"
        stroke="var(--layout)"
        stroke-width="4"
      />
      <text v-bind="text" :x="on(31, angle)[0]" :y="on(31, angle)[1] + 3" text-anchor="middle">
        {{ Math.round(angle * 10) / 10 }}°
      </text>
    </g>
  </svg>
</template>
