<script setup lang="ts">
// A clearance over the crank angle, its least, and the least it may be.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { digits, figure } from '../ui/units'
import { t } from './texts'

const lengthDigits = (mm: number) => digits(mm, 'clearance')
const lengthFigure = (mm: number) => figure(mm, 'clearance')
const props = defineProps<{ view: Schemas['ClearanceView'] }>()
const WIDTH = 420
const HEIGHT = 150
const points = computed(() =>
  props.view.series.flatMap(({ crank_deg, value_mm }) => (value_mm == null ? [] : [{ crank_deg, value_mm }])),
)
const low = computed(() => props.view.window?.low ?? 0)
const degrees = computed(() => {
  const all = props.view.series.map((p) => p.crank_deg)
  return { from: Math.min(0, ...all) - 2, to: Math.max(0, ...all) + 2 }
})
/** What lift and piston give, where the plan says so. */
const computedPoints = computed(() =>
  props.view.series.flatMap(({ crank_deg, computed_mm }) => (computed_mm == null ? [] : [{ crank_deg, computed_mm }])),
)
const most = computed(
  () =>
    Math.max(low.value, ...points.value.map((p) => p.value_mm), ...computedPoints.value.map((p) => p.computed_mm)) *
      1.15 || 1,
)
const leastComputed = computed(() => Math.min(...computedPoints.value.map((p) => p.computed_mm)))
const x = (deg: number) => ((deg - degrees.value.from) / (degrees.value.to - degrees.value.from)) * WIDTH
const y = (mm: number) => HEIGHT - (mm / most.value) * HEIGHT
const least = computed(() =>
  points.value.length ? points.value.reduce((a, b) => (b.value_mm < a.value_mm ? b : a)) : null,
)
</script>

<template>
  <svg
    :viewBox="`-4 -12 ${WIDTH + 60} ${HEIGHT + 40}`"
    class="w-full max-w-2xl print:w-[480px]"
    role="img"
    :aria-label="t('bench-over-the-crank-angle', { view: view.name })"
  >
    <line x1="0" :x2="WIDTH" :y1="HEIGHT" :y2="HEIGHT" stroke="var(--ink)" />
    <line :x1="x(0)" :x2="x(0)" y1="0" :y2="HEIGHT" stroke="var(--rule)" stroke-dasharray="4 4" />
    <line x1="0" :x2="WIDTH" :y1="y(low)" :y2="y(low)" stroke="var(--layout)" stroke-width="2" />
    <text :x="WIDTH + 5" :y="y(low) + 4" font-size="13" fill="var(--layout)">{{ lengthDigits(low) }}</text>
    <polyline
      :points="points.map((p) => `${x(p.crank_deg)},${y(p.value_mm)}`).join(' ')"
      fill="none"
      stroke="var(--ink)"
      stroke-width="1.5"
    />
    <polyline
      v-if="computedPoints.length"
      :points="computedPoints.map((p) => `${x(p.crank_deg)},${y(p.computed_mm)}`).join(' ')"
      fill="none"
      stroke="var(--dim)"
      stroke-width="1.5"
      stroke-dasharray="6 4"
      data-test="computed"
    />
    <circle v-for="p in points" :key="p.crank_deg" :cx="x(p.crank_deg)" :cy="y(p.value_mm)" r="3.5" fill="var(--ink)" />
    <text
      v-for="p in view.series"
      :key="p.crank_deg"
      :x="x(p.crank_deg)"
      :y="HEIGHT + 18"
      text-anchor="middle"
      font-size="13"
      fill="var(--dim)"
    >
      {{ p.crank_deg === 0 ? t('bench-top') : `${p.crank_deg}°` }}
    </text>
    <g v-if="least" :fill="view.decision === 'outside' ? 'var(--wrong)' : 'var(--ink)'">
      <circle
        :cx="x(least.crank_deg)"
        :cy="y(least.value_mm)"
        r="7"
        fill="none"
        :stroke="view.decision === 'outside' ? 'var(--wrong)' : 'var(--ink)'"
        stroke-width="2"
      />
      <text :x="x(least.crank_deg)" :y="y(least.value_mm) - 12" text-anchor="middle" font-size="14" font-weight="600">
        {{ lengthFigure(least.value_mm) }}
      </text>
    </g>
  </svg>
  <p v-if="computedPoints.length" class="text-dim">
    {{ t('bench-dashed-computed-from-lift-and-piston', { least: lengthFigure(leastComputed) }) }}
  </p>
</template>
