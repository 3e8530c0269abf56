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
const span = computed(() => {
  const [xs, ys] = [points.value.map((p) => p[0]!), points.value.map((p) => p[1]!)]
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  // One fastener without an outline around it has a place, too.
  return { x, y, width: Math.max(...xs, x + 1) - x, height: Math.max(...ys, y + 1) - y }
})
/** Fasteners are drawn as large as their neighbours let them. */
const radius = computed(() => {
  const all = props.rows.map((row) => row.at)
  const ways = all.flatMap((a, i) => all.slice(i + 1).map((b) => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!)))
  return Math.min(Math.min(...ways, Infinity) * 0.45, Math.max(span.value.width, span.value.height) * 0.034)
})
const margin = computed(() => Math.max(Math.max(span.value.width, span.value.height) * 0.06, radius.value * 1.3))
/** How wide and high a drawing is, px: as small as its names let it, which are at least 9 pt on paper. */
const USUAL = { width: 520, height: 190 }
const MOST = { width: 690, height: 460 }
const SMALLEST_TEXT = 12
const LETTER = 0.64
const longest = computed(() => Math.max(...props.rows.map((row) => row.fastener.length)))
const pictured = computed(() => {
  const [width, height] = [span.value.width + 2 * margin.value, span.value.height + 2 * margin.value]
  const fit = (room: typeof MOST) => Math.min(room.width / width, room.height / height)
  const needed = (SMALLEST_TEXT * LETTER * longest.value) / (radius.value * 2)
  const scale = Math.min(Math.max(fit(USUAL), needed), fit(MOST))
  // Names that do not fit into their fastener stand above it.
  return { scale, above: needed > scale * 1.001 }
})
const textSize = computed(() => {
  const smallest = SMALLEST_TEXT / pictured.value.scale
  if (pictured.value.above) return smallest
  return Math.max(smallest, Math.min(radius.value * 0.9, (radius.value * 2) / (LETTER * longest.value)))
})
const box = computed(() => {
  const { x, y, width, height } = span.value
  const [side, top] = [margin.value, margin.value + (pictured.value.above ? textSize.value * 1.2 : 0)]
  return { x: x - side, y: y - top, width: width + 2 * side, height: height + side + top }
})
const wrong = (row: Schemas['SheetRow']) => row.pulls.some((pull) => pull?.deviates)
const open = (row: Schemas['SheetRow']) => row.pulls.some((pull) => !pull)
</script>

<template>
  <svg
    :viewBox="`${box.x} ${box.y} ${box.width} ${box.height}`"
    class="block h-auto max-w-full"
    :style="{ width: `${box.width * pictured.scale}px` }"
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
    </g>
    <g class="pointer-events-none" aria-hidden="true">
      <text
        v-for="row in rows"
        :key="row.fastener"
        :x="row.at[0]"
        :y="row.at[1]! - (pictured.above ? radius + textSize * 0.6 : 0)"
        text-anchor="middle"
        dominant-baseline="central"
        :font-size="textSize"
        font-weight="600"
        :fill="wrong(row) && !pictured.above ? 'var(--on-wrong)' : 'var(--ink)'"
      >
        {{ row.fastener }}
      </text>
    </g>
  </svg>
</template>
