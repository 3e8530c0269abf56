<script setup lang="ts">
// One bolt on several lubricants: the torque that each takes for the same clamp load, every reading in its place.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { digits, figure, unitOf } from '../ui/units'

const props = defineProps<{ runs: Schemas['FrictionRunView'][]; name: string }>()
const WIDTH = 400
const HEIGHT = 210
const DASHES = ['', '7 4', '2 4', '10 3 2 3']
const readings = computed(() => props.runs.flatMap((run) => run.readings))
const most = computed(() => ({ load: Math.max(1, ...readings.value.map((of) => of.clamp_kn)) * 1.1, torque: Math.max(1, ...readings.value.map((of) => of.torque_nm)) * 1.1 }))
const x = (kn: number) => (kn / most.value.load) * WIDTH
const y = (nm: number) => HEIGHT - (nm / most.value.torque) * HEIGHT
/** Torque for one kN of clamp load, from the readings that count. */
const slope = (run: Schemas['FrictionRunView']) => {
  const first = run.readings[0]
  return run.k != null && first ? (run.k / first.k) * (first.torque_nm / first.clamp_kn) : undefined
}
const lines = computed(() => {
  const found = props.runs.flatMap((run, at) => {
    const rises = slope(run)
    if (rises == null) return []
    const end = Math.min(most.value.load, most.value.torque / rises)
    return [{ at, x: x(end), y: y(end * rises), label: y(end * rises) }]
  })
  // Labels stand below each other where lines end close together.
  const sorted = [...found].sort((a, b) => a.label - b.label)
  sorted.forEach((line, at) => at && (line.label = Math.max(line.label, sorted[at - 1]!.label + 17)))
  return found
})
/** A torque that all of them were near: what it clamps on each. */
const compared = computed(() => {
  const torque = Math.min(...props.runs.map((run) => Math.max(0, ...run.readings.map((of) => of.torque_nm))))
  const clamps = props.runs.map((run) => ({ name: run.lubricant, kn: slope(run) ? torque / slope(run)! : undefined }))
  return { torque, clamps, most: Math.max(1, ...clamps.map((of) => of.kn ?? 0)) }
})
/** Readings of each run have a form of their own. */
const form = (at: number, cx: number, cy: number) =>
  [`M${cx - 5} ${cy}a5 5 0 1 0 10 0a5 5 0 1 0 -10 0`, `M${cx - 5} ${cy - 5}h10v10h-10z`, `M${cx} ${cy - 6}l6 11h-12z`, `M${cx} ${cy - 6}l6 6l-6 6l-6 -6z`][at % 4]!
const text = { stroke: 'none', fill: 'var(--ink)', 'font-size': 14 }
</script>

<template>
  <figure class="min-w-0" data-test="friction-picture">
    <svg :viewBox="`-12 -16 ${WIDTH + 210} ${HEIGHT + 52}`" class="block w-full max-w-3xl" role="img" :aria-label="`${name}: torque over clamp load, ${runs.map((run) => `${run.lubricant} K ${run.k?.toFixed(3) ?? 'unknown'}`).join(', ')}`" fill="none" stroke="var(--ink)">
      <path :d="`M0 0V${HEIGHT}H${WIDTH}`" />
      <g v-for="(line, at) in lines" :key="at">
        <line x1="0" :y1="HEIGHT" :x2="line.x" :y2="line.y" stroke="var(--layout)" stroke-width="2" :stroke-dasharray="DASHES[line.at % 4]" />
        <text v-bind="text" :x="line.x + 8" :y="line.label + 4"><tspan font-weight="600">K {{ runs[line.at]!.k!.toFixed(3) }}</tspan> {{ runs[line.at]!.lubricant.slice(0, 24) }}</text>
      </g>
      <template v-for="(run, at) in runs" :key="at">
        <path v-for="(of, place) in run.readings" :key="place" :d="form(at, x(of.clamp_kn), y(of.torque_nm))" fill="var(--plate)" stroke-width="1.5" />
      </template>
      <text v-bind="text" :x="WIDTH" :y="HEIGHT + 18" text-anchor="end">{{ figure(most.load, 'force') }}</text>
      <text v-bind="text" x="0" :y="HEIGHT + 18">clamp load</text>
      <text v-bind="text" x="6" y="-3">torque, to {{ figure(most.torque, 'torque') }}</text>
    </svg>
    <figcaption v-if="runs.length > 1" class="mt-1 max-w-3xl">
      <p class="text-dim">{{ figure(compared.torque, 'torque') }} clamps, {{ unitOf('force') }}</p>
      <p v-for="(of, at) in compared.clamps" :key="at" class="grid grid-cols-[minmax(8rem,14rem)_1fr_4rem] items-center gap-3 border-b border-rule py-0.5">
        <span>{{ of.name }}</span>
        <span class="block h-3"><span v-if="of.kn" class="block h-3 bg-layout/40" :style="{ width: `${(of.kn / compared.most) * 100}%` }" /></span>
        <b class="text-right">{{ of.kn ? digits(of.kn, 'force') : '–' }}</b>
      </p>
    </figcaption>
  </figure>
</template>
