<script setup lang="ts">
// One bolt on several lubricants: the torque that each takes for the same clamp load, every reading in its place.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { digits, figure, unitOf } from '../ui/units'
import { t } from './texts'

const props = defineProps<{ runs: Schemas['FrictionRunView'][]; name: string }>()
const WIDTH = 400
const HEIGHT = 210
const DASHES = ['', '7 4', '2 4', '10 3 2 3']
const readings = computed(() => props.runs.flatMap((run) => run.readings))
const most = computed(() => ({
  load: Math.max(1, ...readings.value.map((of) => of.clamp_kn)) * 1.1,
  torque: Math.max(1, ...readings.value.map((of) => of.torque_nm)) * 1.1,
}))
const x = (kn: number) => (kn / most.value.load) * WIDTH
const y = (nm: number) => HEIGHT - (nm / most.value.torque) * HEIGHT
/** Torque for one kN of clamp load, from the readings that count. */
const slope = (run: Schemas['FrictionRunView']) => {
  const first = run.readings[0]
  return run.k != null && first ? (run.k / first.k) * (first.torque_nm / first.clamp_kn) : undefined
}
const lines = computed(() => {
  return props.runs.flatMap((run, at) => {
    const rises = slope(run)
    if (rises == null) return []
    const end = Math.min(most.value.load, most.value.torque / rises)
    return [{ at, x: x(end), y: y(end * rises) }]
  })
})
/** A torque that all of them were near: what it clamps on each. */
const compared = computed(() => {
  const torque = Math.min(...props.runs.map((run) => Math.max(0, ...run.readings.map((of) => of.torque_nm))))
  const clamps = props.runs.map((run) => ({ name: run.lubricant, kn: slope(run) ? torque / slope(run)! : undefined }))
  return { torque, clamps, most: Math.max(1, ...clamps.map((of) => of.kn ?? 0)) }
})
/** Readings of each run have a form of their own. */
const form = (at: number, cx: number, cy: number) =>
  [
    `M${cx - 5} ${cy}a5 5 0 1 0 10 0a5 5 0 1 0 -10 0`,
    `M${cx - 5} ${cy - 5}h10v10h-10z`,
    `M${cx} ${cy - 6}l6 11h-12z`,
    `M${cx} ${cy - 6}l6 6l-6 6l-6 -6z`,
  ][at % 4]!
/** What a reader that cannot see the picture is told of each run. */
const named = computed(() =>
  props.runs
    .map((run) =>
      t('friction-run-factor', { lubricant: run.lubricant, factor: run.k?.toFixed(3) ?? t('friction-unknown') }),
    )
    .join(', '),
)
const text = { stroke: 'none', fill: 'var(--ink)', 'font-size': 14 }
</script>

<template>
  <figure class="min-w-0" data-test="friction-picture">
    <svg
      :viewBox="`-8 -18 ${WIDTH + 16} ${HEIGHT + 44}`"
      class="block w-full max-w-2xl"
      role="img"
      :aria-label="t('friction-torque-over-clamp-load', { name, named })"
      fill="none"
      stroke="var(--ink)"
    >
      <path :d="`M0 0V${HEIGHT}H${WIDTH}`" />
      <g v-for="(line, at) in lines" :key="at">
        <line
          x1="0"
          :y1="HEIGHT"
          :x2="line.x"
          :y2="line.y"
          stroke="var(--layout)"
          stroke-width="2"
          :stroke-dasharray="DASHES[line.at % 4]"
        />
      </g>
      <template v-for="(run, at) in runs" :key="at">
        <path
          v-for="(of, place) in run.readings"
          :key="place"
          :d="form(at, x(of.clamp_kn), y(of.torque_nm))"
          fill="var(--plate)"
          stroke-width="1.5"
        />
      </template>
      <text v-bind="text" :x="WIDTH" :y="HEIGHT + 18" text-anchor="end">{{ figure(most.load, 'force') }}</text>
      <text v-bind="text" x="0" :y="HEIGHT + 18">{{ t('friction-clamp-load') }}</text>
      <text v-bind="text" x="6" y="-3">{{ t('friction-torque-to', { torque: figure(most.torque, 'torque') }) }}</text>
    </svg>
    <figcaption class="mt-1 max-w-2xl">
      <p class="text-right text-dim">
        {{ t('friction-clamps', { torque: figure(compared.torque, 'torque'), unit: unitOf('force') }) }}
      </p>
      <p
        v-for="(of, at) in compared.clamps"
        :key="at"
        :class="[
          'grid grid-cols-[2.5rem_7.5rem_1fr_3.5rem] sm:grid-cols-[2.5rem_14rem_1fr_3.5rem] items-center',
          'gap-2 border-b border-rule py-0.5',
        ]"
      >
        <svg viewBox="0 0 40 14" class="h-4 w-10" aria-hidden="true" fill="none" stroke="var(--ink)">
          <path d="M0 7H40" stroke="var(--layout)" stroke-width="2" :stroke-dasharray="DASHES[at % 4]" />
          <path :d="form(at, 20, 7)" fill="var(--plate)" stroke-width="1.5" />
        </svg>
        <span
          >{{ of.name }} <b class="block whitespace-nowrap">K {{ runs[at]!.k?.toFixed(3) ?? '–' }}</b></span
        >
        <span class="block h-3"
          ><span v-if="of.kn" class="block h-3 bg-layout/40" :style="{ width: `${(of.kn / compared.most) * 100}%` }"
        /></span>
        <b class="text-right">{{ of.kn ? digits(of.kn, 'force') : '–' }}</b>
      </p>
    </figcaption>
  </figure>
</template>
