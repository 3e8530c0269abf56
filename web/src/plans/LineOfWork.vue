<script setup lang="ts">
// The line of work of a plan: what comes after what, and what may run beside what.
import { computed } from 'vue'
import type { Schemas } from '../api/client'

const props = defineProps<{ line: Schemas['LineRow'][]; changeable?: boolean }>()
const emit = defineEmits<{ change: [row: Schemas['LineRow']] }>()
const RAIL = 22
const HIGH = 34
const x = (rail: number) => rail * RAIL + 12
const rails = computed(
  () => 1 + Math.max(0, ...props.line.flatMap((row) => [row.rail, ...row.past, ...row.to, ...row.from])),
)
const kinds: Record<Schemas['OperationKind'], string> = {
  'take-in': 'log in',
  prepare: 'prepare',
  fit: 'fit',
  check: 'check',
  seal: 'seal',
  tighten: 'tighten',
  loosen: 'take apart',
  measure: 'measure',
  count: 'count',
  turn: 'turn',
  sign: 'sign',
}
const bend = (from: number, to: number, top: number, end: number) =>
  from === to
    ? `M${x(from)} ${top}V${end}`
    : `M${x(from)} ${top}C${x(from)} ${(top + end) / 2} ${x(to)} ${(top + end) / 2} ${x(to)} ${end}`
</script>

<template>
  <ol aria-label="Build sequence" data-test="line">
    <li
      v-for="row in line"
      :key="row.id"
      class="relative break-inside-avoid"
      :style="{ paddingLeft: `${rails * RAIL + 14}px`, minHeight: `${HIGH}px` }"
      :data-test="`line-${row.id}`"
    >
      <svg
        class="absolute inset-y-0 left-0 h-full overflow-visible"
        :width="rails * RAIL"
        aria-hidden="true"
        fill="none"
        stroke="var(--ink)"
        stroke-width="1.5"
      >
        <path v-for="rail in row.from" :key="`f${rail}`" :d="bend(rail, row.rail, 0, 16)" />
        <line v-for="rail in row.past" :key="`p${rail}`" :x1="x(rail)" y1="0" :x2="x(rail)" y2="100%" />
        <line
          v-for="rail in row.to"
          :key="`t${rail}`"
          :x1="x(rail)"
          :y1="rail === row.rail ? 16 : 17"
          :x2="x(rail)"
          y2="100%"
        />
        <path
          v-for="rail in row.to.filter((rail) => rail !== row.rail)"
          :key="`b${rail}`"
          :d="`M${x(row.rail)} 16H${x(rail)}`"
        />
        <circle :cx="x(row.rail)" cy="16" r="5.5" fill="var(--face)" />
      </svg>
      <div class="flex flex-wrap items-baseline gap-x-3 py-1">
        <button
          v-if="changeable"
          class="min-h-6 text-left font-semibold underline underline-offset-4"
          :data-test="`step-${row.id}`"
          @click="emit('change', row)"
        >
          {{ row.name }}
        </button>
        <span v-else class="font-semibold">{{ row.name }}</span>
        <span class="text-dim"
          ><template v-if="row.kind">{{ kinds[row.kind] }}</template
          ><template v-if="row.repeat">by {{ row.repeat.by }}, {{ row.repeat.times }} times</template></span
        >
        <span v-if="row.steps.length" class="basis-full text-dim">{{ row.steps.join(' · ') }}</span>
      </div>
    </li>
  </ol>
</template>
