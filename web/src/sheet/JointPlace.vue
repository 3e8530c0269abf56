<script setup lang="ts">
// Where the fasteners of a joint are: a small drawing, on paper too. A tap on one tells its whole story.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import PartOutline from '../ui/PartOutline.vue'
import { t } from './texts'

const props = defineProps<{ drawing: Schemas['Drawing']; rows: Schemas['SheetRow'][] }>()
const emit = defineEmits<{ story: [fastener: string] }>()
const points = computed(() => [
  ...props.rows.map((row) => row.at),
  ...props.drawing.shapes.flatMap((shape) => ('points' in shape ? shape.points : [])),
])
const box = computed(() => {
  const [xs, ys] = [points.value.map((p) => p[0]!), points.value.map((p) => p[1]!)]
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  const [width, height] = [Math.max(...xs) - x, Math.max(...ys) - y]
  const margin = Math.max(width, height) * 0.06
  return { x: x - margin, y: y - margin, width: width + 2 * margin, height: height + 2 * margin }
})
/** Fasteners are drawn as large as their neighbours let them. */
const radius = computed(() => {
  const all = props.rows.map((row) => row.at)
  const ways = all.flatMap((a, i) => all.slice(i + 1).map((b) => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!)))
  return Math.min(Math.min(...ways, Infinity) * 0.45, Math.max(box.value.width, box.value.height) * 0.03)
})
/** How wide and high a drawing is on paper, px; its names are at least 9 pt there. */
const PAPER = { width: 520, height: 190 }
const SMALLEST_TEXT = 12
const textSize = computed(() => {
  const scale = Math.min(PAPER.width / box.value.width, PAPER.height / box.value.height)
  return Math.max(radius.value * 0.9, SMALLEST_TEXT / scale)
})
/** Names that do not fit into their fastener stand above it. */
const isAbove = computed(() => {
  const longest = Math.max(...props.rows.map((row) => row.fastener.length))
  return textSize.value * 0.62 * longest > radius.value * 2
})
const wrong = (row: Schemas['SheetRow']) => row.pulls.some((pull) => pull?.deviates)
const open = (row: Schemas['SheetRow']) => row.pulls.some((pull) => !pull)
</script>

<template>
  <svg
    :viewBox="`${box.x} ${box.y} ${box.width} ${box.height}`"
    class="block max-h-56 w-full max-w-xl print:max-h-[190px] print:max-w-[520px]"
    role="group"
    :aria-label="drawing.name"
  >
    <g fill="none" stroke="var(--dim)" stroke-width="1" vector-effect="non-scaling-stroke">
      <PartOutline :drawing="drawing" />
    </g>
    <g
      v-for="row in rows"
      :key="row.fastener"
      class="cursor-pointer"
      role="button"
      tabindex="0"
      :transform="`translate(${row.at[0]} ${row.at[1]})`"
      :aria-label="t('sheet-history-of', { fastener: row.fastener })"
      :data-test="`story-${row.fastener}`"
      @click="emit('story', row.fastener)"
      @keydown.enter="emit('story', row.fastener)"
      @keydown.space.prevent="emit('story', row.fastener)"
    >
      <circle
        :r="radius"
        :fill="wrong(row) ? 'var(--wrong)' : 'var(--face)'"
        :stroke="wrong(row) ? 'var(--wrong)' : 'var(--ink)'"
        :stroke-width="radius * 0.12"
        :stroke-dasharray="open(row) ? `${radius * 0.4} ${radius * 0.3}` : undefined"
      />
      <line
        v-if="!open(row) && !wrong(row)"
        :x1="radius * 0.62"
        :y1="-radius * 0.62"
        :x2="radius * 1.1"
        :y2="-radius * 1.1"
        stroke="var(--paint)"
        :stroke-width="radius * 0.3"
      />
      <text
        text-anchor="middle"
        dominant-baseline="central"
        :y="isAbove ? -radius - textSize * 0.6 : 0"
        :font-size="textSize"
        font-weight="600"
        :fill="wrong(row) && !isAbove ? 'var(--on-wrong)' : 'var(--ink)'"
      >
        {{ row.fastener }}
      </text>
    </g>
  </svg>
</template>
