<script setup lang="ts">
// What a calculation is about, drawn, where it has a geometry: in the proportions of what is typed.
import { computed } from 'vue'
import type { Values } from './fields'
import { t } from './texts'

const props = defineProps<{ name: string; input: Values }>()
const n = (key: string, usual = 0) => (typeof props.input[key] === 'number' ? (props.input[key] as number) : usual)
/** The segments of a bolt, from its head on. */
const segments = computed(() => {
  const rows = Array.isArray(props.input.segments) ? (props.input.segments as Values[]) : []
  let x = 0
  return rows.map((row) => {
    const [long, d] = [Number(row.length_mm) || 5, typeof row.diameter_mm === 'number' ? row.diameter_mm : 0]
    const one = { x, long, d, thread: row.diameter_mm === 'thread' }
    x += long
    return one
  })
})
const most = computed(() => Math.max(6, ...segments.value.map((of) => of.d)))
const long = computed(() => segments.value.reduce((sum, of) => sum + of.long, 0))
/** The deformation cone under a head: it widens until it meets the outside of the part. */
const cone = computed(() => {
  const [dw, hole, clamp, outer] = [
    n('bearing_od_mm', 16),
    n('hole_mm', 11),
    n('clamp_length_mm', 50),
    n('outer_mm', 40),
  ]
  const reach = Math.min((outer - dw) / 2, (clamp / (props.input.kind === 'tapped' ? 1 : 2)) * 0.36)
  return {
    dw,
    hole,
    clamp,
    outer: Math.min(outer, dw + clamp),
    reach: Math.max(0, Math.min(reach, clamp)),
    tapped: props.input.kind === 'tapped',
  }
})
/** In a tapped hole it widens down to the thread, under a nut to the middle and back. */
const coneOutline = computed(() => {
  const { dw, reach, clamp, tapped } = cone.value
  const [left, right] = [-dw / 2, dw / 2]
  return tapped
    ? `M${left} 0L${left - reach} ${clamp}H${right + reach}L${right} 0z`
    : `M${left} 0L${left - reach} ${clamp / 2}L${left} ${clamp}H${right}L${right + reach} ${clamp / 2}L${right} 0z`
})
const crow = computed(() => {
  const [wrench, adapter, angle] = [n('wrench_mm', 400), n('adapter_mm', 50), (n('angle_deg') * Math.PI) / 180]
  const [top, wide] = [-adapter * 1.3 - wrench * 0.05, wrench * 1.16 + adapter * 1.2]
  const box = [-wrench * 1.08, top, wide, adapter * 2.6 + wrench * 0.1]
  return { wrench, x: adapter * Math.cos(angle), y: -adapter * Math.sin(angle), adapter, box }
})
const slots = computed(() => Math.max(3, Math.min(12, Math.round(n('slots', 6)))))
const cylinder = computed(() => {
  const [bore, stroke, deck, gasket] = [n('bore_mm', 86), n('stroke_mm', 86), n('deck_mm', 0), n('gasket_mm', 1)]
  const chamber = Math.min(bore * 0.5, (n('chamber_cc', 48) * 1000) / (0.6 * bore * bore))
  const box = [-bore * 0.75, -chamber * 1.5 - 6, bore * 1.5, stroke * 1.35 + chamber * 1.5]
  return { bore, stroke, deck, gasket, chamber, box }
})
const line = { fill: 'none', stroke: 'var(--ink)' }
</script>

<template>
  <svg
    v-if="name === 'bolt-resilience'"
    :viewBox="`${-most * 1.4} ${-most * 1.3} ${long + most * 3.4} ${most * 2.6}`"
    class="block max-h-40 w-full"
    role="img"
    :aria-label="t('calculate-the-bolt-with-its-segments')"
    v-bind="line"
    data-test="picture"
  >
    <rect :x="-most * 0.7" :y="-most * 0.85" :width="most * 0.7" :height="most * 1.7" fill="var(--face)" />
    <g v-for="(of, at) in segments" :key="at">
      <rect
        :x="of.x"
        :y="-(of.d || most * 0.85) / 2"
        :width="of.long"
        :height="of.d || most * 0.85"
        fill="var(--face)"
        :stroke-dasharray="of.thread ? '3 2' : undefined"
      />
      <text
        :x="of.x + of.long / 2"
        :y="most"
        :font-size="most * 0.4"
        text-anchor="middle"
        fill="var(--layout)"
        stroke="none"
      >
        {{ at + 1 }}
      </text>
    </g>
    <rect :x="long" :y="-most * 0.5" :width="most" :height="most" stroke-dasharray="4 3" />
  </svg>
  <svg
    v-else-if="name === 'part-resilience'"
    :viewBox="`${-cone.outer * 0.7} ${-cone.dw * 0.5} ${cone.outer * 1.4} ${cone.clamp + cone.dw}`"
    class="block max-h-56 w-full"
    role="img"
    :aria-label="t('calculate-the-deformation-cone-in-the-clamped')"
    v-bind="line"
    data-test="picture"
  >
    <rect :x="-cone.outer / 2" y="0" :width="cone.outer" :height="cone.clamp" fill="var(--face)" />
    <path :d="coneOutline" fill="var(--layout)" fill-opacity="0.18" stroke="var(--layout)" />
    <rect :x="-cone.hole / 2" y="0" :width="cone.hole" :height="cone.clamp" fill="var(--plate)" />
    <rect :x="-cone.dw / 2" :y="-cone.dw * 0.4" :width="cone.dw" :height="cone.dw * 0.4" fill="var(--face)" />
  </svg>
  <svg
    v-else-if="name === 'adapter'"
    :viewBox="crow.box.join(' ')"
    class="block max-h-40 w-full"
    role="img"
    :aria-label="t('calculate-the-wrench-from-the-hand-to')"
    v-bind="line"
    data-test="picture"
  >
    <line :x1="-crow.wrench" x2="0" y1="0" y2="0" stroke-width="6" stroke-linecap="round" />
    <line x1="0" y1="0" :x2="crow.x" :y2="crow.y" stroke="var(--layout)" stroke-width="6" stroke-linecap="round" />
    <circle r="6" fill="var(--face)" />
    <circle :cx="crow.x" :cy="crow.y" r="9" fill="var(--face)" stroke="var(--layout)" />
    <circle :cx="-crow.wrench" r="9" fill="var(--paint)" />
  </svg>
  <svg
    v-else-if="name === 'castellated'"
    viewBox="-60 -60 120 120"
    class="block h-44"
    role="img"
    :aria-label="t('calculate-the-nut-with-its-slots-the')"
    v-bind="line"
    data-test="picture"
  >
    <circle r="44" fill="var(--face)" />
    <circle r="22" fill="var(--plate)" />
    <rect
      v-for="at in slots"
      :key="at"
      x="-5"
      y="-48"
      width="10"
      height="16"
      fill="var(--plate)"
      :transform="`rotate(${(at * 360) / slots + n('past_slot_deg')})`"
    />
    <line y1="-56" y2="56" stroke="var(--layout)" stroke-width="2" stroke-dasharray="5 4" />
  </svg>
  <svg
    v-else-if="name === 'compression-ratio'"
    :viewBox="cylinder.box.join(' ')"
    class="block max-h-60 w-full"
    role="img"
    :aria-label="t('calculate-cylinder-and-chamber-the-piston-at')"
    v-bind="line"
    data-test="picture"
  >
    <path
      :d="`M${-cylinder.bore / 2} 0Q0 ${-cylinder.chamber * 2} ${cylinder.bore / 2} 0z`"
      fill="var(--layout)"
      fill-opacity="0.18"
      stroke="var(--layout)"
    />
    <rect :x="-cylinder.bore / 2" y="0" :width="cylinder.bore" :height="cylinder.stroke * 1.3" />
    <rect
      :x="-cylinder.bore / 2"
      :y="Math.max(0.5, cylinder.deck + cylinder.gasket)"
      :width="cylinder.bore"
      :height="cylinder.stroke * 0.25"
      fill="var(--face)"
    />
    <rect
      :x="-cylinder.bore / 2"
      :y="cylinder.stroke + cylinder.deck + cylinder.gasket"
      :width="cylinder.bore"
      :height="cylinder.stroke * 0.25"
      stroke-dasharray="5 4"
    />
  </svg>
</template>

<style scoped>
/* Lines are as thin on a large part as on a small one. */
svg * {
  vector-effect: non-scaling-stroke;
}
</style>
