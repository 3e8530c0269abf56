<script setup lang="ts">
// A part with its fasteners in their true places, each with its name and, beside it, its place in the sequence.
// Where they may be moved: by dragging on a grid, by arrow keys; a box that is drawn over several chooses them.
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import PartOutline from '../ui/PartOutline.vue'
import { t } from './texts'

type Placed = Schemas['PlacedFastener'] & { number: number }
const props = defineProps<{
  drawing: Schemas['Drawing']
  groups: Schemas['GroupPage'][]
  movable?: boolean
  selected?: string[]
  grid?: number
}>()
const emit = defineEmits<{ move: [by: [number, number], ids: string[]]; select: [ids: string[]] }>()
const svg = ref<SVGSVGElement>()
const placed = computed<(Placed & { group: number })[]>(() =>
  props.groups.flatMap((group, at) =>
    group.fasteners.map((one, number) => ({ ...one, number: number + 1, group: at })),
  ),
)
/** What is being dragged goes with the hand, and is written when it is let go. */
const drag = ref<{ ids: Set<string>; from: DOMPoint; by: [number, number] }>()
const box = computed(() => {
  const points = [
    ...placed.value.map((p) => [p.x_mm, p.y_mm]),
    ...props.drawing.shapes.flatMap((shape) => {
      if ('points' in shape) return shape.points
      const [x, y, r] = [shape.at[0]!, shape.at[1]!, shape.diameter / 2]
      return [
        [x - r, y - r],
        [x + r, y + r],
      ]
    }),
  ]
  const [xs, ys] = [points.map((p) => p[0]!), points.map((p) => p[1]!)]
  const [x, y] = [Math.min(0, ...xs), Math.min(0, ...ys)]
  const [width, height] = [Math.max(1, ...xs) - x, Math.max(1, ...ys) - y]
  const margin = Math.max(width, height) * 0.06
  return { x: x - margin, y: y - margin, width: width + 2 * margin, height: height + 2 * margin }
})
/** Heads are as large as their neighbours let them be. */
const radius = computed(() => {
  let nearest = Infinity
  const sorted = [...placed.value].sort((a, b) => a.x_mm - b.x_mm)
  for (let i = 0; i < sorted.length; i++)
    for (let k = i + 1; k < sorted.length && sorted[k]!.x_mm - sorted[i]!.x_mm < nearest; k++) {
      const way = Math.hypot(sorted[i]!.x_mm - sorted[k]!.x_mm, sorted[i]!.y_mm - sorted[k]!.y_mm)
      if (way > 0.01) nearest = Math.min(nearest, way)
    }
  return Math.max(box.value.width / 260, Math.min(nearest * 0.44, Math.max(box.value.width, box.value.height) * 0.028))
})
const at = (p: Placed) => {
  const by = drag.value?.ids.has(p.id) ? drag.value.by : [0, 0]
  return `translate(${p.x_mm + by[0]!} ${p.y_mm + by[1]!})`
}
const hand = (event: PointerEvent) =>
  new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.value!.getScreenCTM()!.inverse())
const snap = (value: number) => {
  const grid = props.grid || 0.1
  return Math.round(Math.round(value / grid) * grid * 1000) / 1000
}
function take(event: PointerEvent, one: Placed) {
  const chosen = props.selected ?? []
  const ids = event.shiftKey
    ? chosen.includes(one.id)
      ? chosen.filter((id) => id !== one.id)
      : [...chosen, one.id]
    : chosen.includes(one.id)
      ? chosen
      : [one.id]
  emit('select', ids)
  if (!props.movable || !one.path) return
  drag.value = { ids: new Set(ids), from: hand(event), by: [0, 0] }
  svg.value!.setPointerCapture(event.pointerId)
}
/** A box that is drawn from one corner to the other, over what is to be chosen. */
const frame = ref<{ from: DOMPoint; to: DOMPoint; more: string[] }>()
const framed = computed(() => {
  if (!frame.value) return undefined
  const { from, to } = frame.value
  const [x, y] = [Math.min(from.x, to.x), Math.min(from.y, to.y)]
  return { x, y, width: Math.abs(to.x - from.x), height: Math.abs(to.y - from.y) }
})
function begin(event: PointerEvent) {
  if (!props.movable || (event.target as Element).closest('[data-bolt]')) return
  const from = hand(event)
  frame.value = { from, to: from, more: event.shiftKey ? (props.selected ?? []) : [] }
  svg.value!.setPointerCapture(event.pointerId)
}
function chooseFramed() {
  const box = framed.value!
  const inside = (of: Placed) =>
    of.x_mm >= box.x && of.x_mm <= box.x + box.width && of.y_mm >= box.y && of.y_mm <= box.y + box.height
  const ids = placed.value.filter(inside).map((of) => of.id)
  emit('select', [...new Set([...frame.value!.more, ...ids])])
  frame.value = undefined
}
function move(event: PointerEvent) {
  if (frame.value) frame.value = { ...frame.value, to: hand(event) }
  if (!drag.value) return
  const now = hand(event)
  drag.value.by = [snap(now.x - drag.value.from.x), snap(now.y - drag.value.from.y)]
}
function drop() {
  if (frame.value) return chooseFramed()
  const dragged = drag.value
  drag.value = undefined
  if (dragged && (dragged.by[0] || dragged.by[1])) emit('move', dragged.by, [...dragged.ids])
}
const ways: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
function key(event: KeyboardEvent, one: Placed) {
  const way = ways[event.key]
  if (event.key === 'Enter' || event.key === ' ') {
    event.preventDefault()
    emit('select', [one.id])
  } else if (way && props.movable && one.path) {
    event.preventDefault()
    const step = (props.grid || 1) * (event.shiftKey ? 5 : 1)
    const ids = props.selected?.includes(one.id) ? props.selected : [one.id]
    emit('move', [way[0] * step, way[1] * step], ids)
  }
}
</script>

<template>
  <svg
    ref="svg"
    :viewBox="`${box.x} ${box.y} ${box.width} ${box.height}`"
    class="print:max-h-[4.5cm] block max-h-80 w-full"
    :class="movable && 'touch-none'"
    role="group"
    :aria-label="drawing.name"
    data-test="drawing"
    @pointerdown="begin"
    @pointermove="move"
    @pointerup="drop"
    @pointercancel="drag = frame = undefined"
  >
    <g fill="none" stroke="var(--dim)" stroke-width="1.1">
      <PartOutline :drawing="drawing" filled />
    </g>
    <text
      v-if="drawing.along"
      :x="box.x + box.width * 0.004"
      :y="box.y + box.height / 2"
      :font-size="box.width * 0.016"
      fill="var(--dim)"
      :transform="`rotate(-90 ${box.x + box.width * 0.018} ${box.y + box.height / 2})`"
      text-anchor="middle"
    >
      {{ t('common-front') }}
    </text>
    <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- a button when movable -->
    <g
      v-for="one in placed"
      :key="`${one.group} ${one.id}`"
      :transform="at(one)"
      :role="movable ? 'button' : 'img'"
      :tabindex="movable ? 0 : undefined"
      :class="movable && one.path ? 'cursor-grab' : movable && 'cursor-pointer'"
      :aria-label="
        t('plans-of-at', {
          id: one.id,
          one: one.number,
          groups: groups[one.group]!.name,
          x_mm: one.x_mm,
          y_mm: one.y_mm,
        })
      "
      data-bolt
      :data-test="`bolt-${one.id}`"
      @pointerdown="take($event, one)"
      @keydown="key($event, one)"
    >
      <circle
        v-if="selected?.includes(one.id)"
        :r="radius * 1.35"
        fill="none"
        stroke="var(--layout)"
        :stroke-width="radius * 0.25"
      />
      <circle
        v-if="one.group % 2 === 0"
        :r="radius"
        fill="var(--plate)"
        stroke="var(--ink)"
        :stroke-width="radius * 0.12"
      />
      <rect
        v-else
        :x="-radius * 0.9"
        :y="-radius * 0.9"
        :width="radius * 1.8"
        :height="radius * 1.8"
        fill="var(--plate)"
        stroke="var(--ink)"
        :stroke-width="radius * 0.12"
      />
      <text
        text-anchor="middle"
        dominant-baseline="central"
        :font-size="radius * Math.min(1, 2.4 / one.id.length)"
        font-weight="600"
        fill="var(--ink)"
      >
        {{ one.id }}
      </text>
      <text
        :x="radius * 0.95"
        :y="-radius * 0.85"
        :font-size="radius * 0.72"
        font-weight="600"
        fill="var(--layout)"
        stroke="var(--face)"
        :stroke-width="radius * 0.18"
        paint-order="stroke"
      >
        {{ one.number }}
      </text>
    </g>
    <rect
      v-if="framed"
      v-bind="framed"
      fill="none"
      stroke="var(--layout)"
      stroke-dasharray="6 4"
      stroke-width="2"
      vector-effect="non-scaling-stroke"
    />
  </svg>
</template>
