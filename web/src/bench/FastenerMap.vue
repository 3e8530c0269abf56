<script setup lang="ts">
// The part from the plan, with every fastener in its true place and its paint marks.
import { computed } from 'vue'
import type { Schemas } from '../api/client'

type Mark = Schemas['FastenerMark']
const props = defineProps<{ drawing: Schemas['Drawing'] | null | undefined; fasteners: Mark[]; selected: string | null }>()
const emit = defineEmits<{ select: [id: string] }>()

const MARGIN = 26
const places = computed(() => [
  ...props.fasteners.map((f) => [f.x_mm, f.y_mm]),
  ...(props.drawing?.shapes ?? []).flatMap((shape) => ('points' in shape ? shape.points : [])),
])
const box = computed(() => {
  const xs = places.value.map((p) => p[0] ?? 0)
  const ys = places.value.map((p) => p[1] ?? 0)
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y }
})
const viewBox = computed(() => {
  const { x, y, width, height } = box.value
  return `${x - MARGIN - 14} ${y - MARGIN} ${width + 2 * MARGIN + 14} ${height + 2 * MARGIN}`
})
const points = (list: number[][]) => list.map((p) => p.join(',')).join(' ')
/** Heads are drawn larger than life so that they can be read and touched. */
const radius = (mark: Mark) => Math.max(mark.diameter_mm * 1.25, 13)
const hexagon = (r: number) =>
  Array.from({ length: 6 }, (_, i) => {
    const angle = (Math.PI / 3) * i
    return `${r * Math.cos(angle)},${r * Math.sin(angle)}`
  }).join(' ')

function describe(mark: Mark): string {
  const states = { waiting: 'its turn comes', next: 'next', done: 'done', wrong: 'wrong' }
  const marks = mark.strokes.map((s) => `paint mark at ${s.clock}`).join(', ')
  return `${mark.id}, number ${mark.number}, ${states[mark.state]}${marks ? `, ${marks}` : ''}`
}
</script>

<template>
  <svg :viewBox="viewBox" class="block max-h-[27rem] w-full" role="group" :aria-label="drawing?.name ?? 'Map of the fasteners'">
    <g fill="none" stroke="var(--dim)" stroke-width="1.2" vector-effect="non-scaling-stroke">
      <template v-for="(shape, at) in drawing?.shapes" :key="at">
        <polygon v-if="shape.kind === 'outline'" :points="points(shape.points)" fill="var(--face)" />
        <polyline v-else-if="shape.kind === 'line'" :points="points(shape.points)" />
        <circle v-else :cx="shape.at[0]" :cy="shape.at[1]" :r="shape.diameter / 2" stroke-dasharray="7 3 1.5 3" />
      </template>
      <path :d="`M${box.x - 22} ${box.y + box.height / 2}H${box.x + box.width + 14}`" stroke-dasharray="14 4 2 4" stroke-width="0.7" />
    </g>
    <g :transform="`translate(${box.x - 12} ${box.y + box.height / 2})`">
      <path d="M0-7-14 0 0 7z" fill="var(--ink)" />
      <text x="-4" y="-14" font-size="11" text-anchor="middle" fill="var(--ink)" transform="rotate(-90 -4 -14) translate(26 4)">Front</text>
    </g>
    <g
      v-for="mark in fasteners"
      :key="mark.id"
      :transform="`translate(${mark.x_mm} ${mark.y_mm})`"
      class="cursor-pointer"
      role="button"
      tabindex="0"
      :aria-label="describe(mark)"
      :data-test="`map-${mark.id}`"
      :data-state="mark.state"
      :data-strokes="mark.strokes.length"
      @click="emit('select', mark.id)"
      @keydown.enter.stop.prevent="emit('select', mark.id)"
    >
      <title>{{ describe(mark) }}</title>
      <circle :r="radius(mark) + 22" fill="transparent" />
      <circle v-if="mark.state === 'next'" :r="radius(mark) + 9" fill="none" stroke="var(--layout)" stroke-width="4" class="breathe" />
      <circle v-if="mark.id === selected" :r="radius(mark) + 5" fill="none" stroke="var(--ink)" stroke-width="1.5" stroke-dasharray="4 3" />
      <path v-if="mark.state === 'wrong'" :d="`M0 ${-radius(mark) - 15}L${radius(mark) + 15} ${radius(mark) + 9}H${-radius(mark) - 15}z`" fill="var(--face)" stroke="var(--wrong)" stroke-width="4" />
      <polygon
        :points="hexagon(radius(mark))"
        :fill="mark.state === 'next' ? 'var(--layout)' : 'var(--plate)'"
        :stroke="mark.state === 'wrong' ? 'var(--wrong)' : 'var(--ink)'"
        :stroke-width="mark.state === 'waiting' ? 1 : 1.8"
      />
      <line
        v-for="stroke in mark.strokes"
        :key="stroke.stage"
        :transform="`rotate(${stroke.at_deg})`"
        :y1="-radius(mark) * 0.8"
        :y2="-radius(mark) - 9"
        stroke="var(--paint)"
        stroke-width="4.5"
        stroke-linecap="round"
      />
      <text
        text-anchor="middle"
        dominant-baseline="central"
        :font-size="radius(mark) * 0.95"
        font-weight="600"
        :fill="mark.state === 'next' ? 'var(--on-layout)' : 'var(--ink)'"
      >
        {{ mark.number }}
      </text>
      <text :y="mark.y_mm < box.y + box.height / 2 ? -radius(mark) - 14 : radius(mark) + 21" text-anchor="middle" font-size="11" fill="var(--dim)">
        {{ mark.id }}
      </text>
    </g>
  </svg>
</template>
