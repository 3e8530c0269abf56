<script setup lang="ts">
// The free length of every piece of a set, engine by engine, against how much it may grow for good (C-23, C-25).
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { figure } from '../ui/units'
import { t } from './texts'

const props = defineProps<{ history: Schemas['PartHistory'] }>()
const [WIDTH, HEIGHT, LEFT, TOP] = [360, 230, 14, 26]
const engines = computed(() => {
  const names: string[] = []
  for (const piece of props.history.pieces)
    for (const { engine } of piece.lived) if (!names.includes(engine)) names.push(engine)
  return names
})
const most = computed(() =>
  props.history.pieces.flatMap((p) => p.lived.map((l) => l.life.set_mm ?? 0)).reduce((a, b) => Math.max(a, b), 0),
)
/** Growth against the first free length, at take-in of each engine, and what was left when it was loosened there. */
const lines = computed(() =>
  props.history.pieces
    .filter((piece) => piece.piece > 0)
    .map((piece) => {
      const points = piece.lived.flatMap(({ engine, life }) => {
        const at = engines.value.indexOf(engine)
        const before =
          piece.first_free_mm != null && life.free_mm != null ? [{ at, grown: life.free_mm - piece.first_free_mm }] : []
        const after = life.left_mm != null ? [{ at: at + 0.5, grown: (before[0]?.grown ?? 0) + life.left_mm }] : []
        return [...before, ...after]
      })
      return { piece, points }
    })
    .filter((line) => line.points.length),
)
const top = computed(() =>
  Math.max(most.value * 1.5, ...lines.value.flatMap((line) => line.points.map((p) => p.grown * 1.15)), 0.004),
)
const low = computed(() =>
  Math.min(-top.value * 0.15, ...lines.value.flatMap((line) => line.points.map((p) => p.grown * 1.2))),
)
const x = (at: number) => LEFT + 26 + ((WIDTH - LEFT - 60) * (at + 0.25)) / Math.max(engines.value.length, 1)
const y = (grown: number) => TOP + ((HEIGHT - TOP - 34) * (top.value - grown)) / (top.value - low.value)
</script>

<template>
  <figure v-if="lines.length">
    <svg
      :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
      class="w-full max-w-md"
      role="img"
      :aria-label="t('parts-permanent-stretch-of-each-piece-since')"
    >
      <text :x="LEFT" y="14" font-size="12" fill="var(--dim)">{{ t('parts-permanent-stretch') }}</text>
      <line :x1="LEFT" :x2="WIDTH - 8" :y1="y(0)" :y2="y(0)" stroke="var(--ink)" />
      <g v-if="most">
        <line
          :x1="LEFT"
          :x2="WIDTH - 8"
          :y1="y(most)"
          :y2="y(most)"
          stroke="var(--wrong)"
          stroke-width="2"
          stroke-dasharray="6 4"
        />
        <text :x="WIDTH - 8" :y="y(most) - 5" font-size="12" text-anchor="end" fill="var(--wrong)">
          {{ t('parts-max', { most: figure(most, 'clearance') }) }}
        </text>
      </g>
      <g v-for="(engine, at) in engines" :key="engine">
        <line :x1="x(at)" :x2="x(at)" :y1="y(0) - 4" :y2="y(0) + 4" stroke="var(--ink)" />
        <text :x="x(at)" :y="HEIGHT - 6" font-size="12" text-anchor="start" fill="var(--dim)">{{ engine }}</text>
      </g>
      <g v-for="line in lines" :key="line.piece.piece">
        <polyline
          v-if="line.points.length > 1"
          :points="line.points.map((p) => `${x(p.at)},${y(p.grown)}`).join(' ')"
          fill="none"
          :stroke="line.piece.verdict === 'scrap' ? 'var(--wrong)' : 'var(--layout)'"
          stroke-width="1.5"
        />
        <g v-for="(point, n) in line.points" :key="n">
          <path
            v-if="line.piece.verdict === 'scrap' && n === line.points.length - 1"
            :d="`M${x(point.at)} ${y(point.grown) - 6}l6 10h-12z`"
            fill="var(--wrong)"
          />
          <circle v-else :cx="x(point.at)" :cy="y(point.grown)" r="3.5" fill="var(--paint)" stroke="var(--ink)" />
          <text
            v-if="line.piece.verdict === 'scrap' && n === line.points.length - 1"
            :x="x(point.at) + 9"
            :y="y(point.grown) + 4"
            font-size="12"
            font-weight="600"
            fill="var(--wrong)"
          >
            {{ line.piece.piece }}
          </text>
        </g>
      </g>
    </svg>
  </figure>
</template>
