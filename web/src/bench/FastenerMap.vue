<script setup lang="ts">
// The part from the plan, with every fastener in its true place and its paint marks. On a phone it is
// turned, its long side along the screen's; heads are large enough for a thumb.
import { useElementSize, useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import PartOutline from '../ui/PartOutline.vue'
import { t } from './texts'

type Mark = Schemas['FastenerMark']
const props = defineProps<{
  drawing: Schemas['Drawing']
  fasteners: Mark[]
  selected: string | null
  marked?: string[]
  /** A map to look at above the figure: not turned, without numbers, and nothing on it can be tapped. */
  small?: boolean
}>()
const emit = defineEmits<{ select: [id: string] }>()

/** Everything is drawn in units of a part this long; smaller parts are drawn larger. */
const PART = 300
/** Room round the part. */
const MARGIN = 26
/** Room for numbers beside the outermost heads. */
const NAMES = 22
/** Room for the word at the front. */
const FRONT = 14
/** What a thumb needs, px: from flat to flat of a head. */
const THUMB = 44
/** How near to its neighbour a head may reach, as a share of the way between them. */
const APART = 0.44

const svg = ref<SVGElement>()
const { width: screen } = useElementSize(svg)
const narrow = useMediaQuery('(max-width: 639px)')

type Point = [x: number, y: number]
const flat = computed<Point[]>(() => [
  ...props.fasteners.map((f): Point => [f.x_mm, f.y_mm]),
  ...props.drawing.shapes.flatMap((shape) => ('points' in shape ? (shape.points as Point[]) : [])),
])
const extent = (points: Point[]) => {
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])]
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y }
}
const turned = computed(() => {
  const { width, height } = extent(flat.value)
  return narrow.value && !props.small && props.drawing.along && width > height
})
/** Units to a millimetre. */
const scale = computed(() => Math.max(1, PART / Math.max(extent(flat.value).width, extent(flat.value).height)))
/** Where a place of the part is drawn: the front is left, or on a turned map at the top. */
const place = (x: number, y: number): Point => {
  const [along, across] = [x * scale.value, y * scale.value]
  return turned.value ? [-across, along] : [along, across]
}
const box = computed(() => extent(flat.value.map(([x, y]) => place(x, y))))
/** So many fasteners that names and numbers of all of them would cover each other. */
const CROWD = 60
/** How many neighbours are in sight where the map shows where the work is. */
const NEIGHBOURS = 14
const inHand = computed(() => props.fasteners.filter((f) => f.in_hand))
const crowded = computed(() => inHand.value.length > CROWD)
/** Whether all of a crowded part is shown. */
const whole = ref(false)
/** The fastener that the work is at. */
const atWork = computed(
  () => inHand.value.find((f) => f.id === props.selected) ?? inHand.value.find((f) => f.state === 'next'),
)
/** Which fasteners have their name and number on them. */
const named = (mark: Mark) =>
  !(crowded.value || props.small) || mark.id === props.selected || mark.state === 'next' || mark.state === 'wrong'
/** Where the work is: the fastener that is next, with those round it. */
const close = computed(() => {
  const at = atWork.value
  if (!at || !crowded.value || whole.value || props.small) return null
  const [x, y] = place(at.x_mm, at.y_mm)
  const ways = inHand.value.map((f) => {
    const [fx, fy] = place(f.x_mm, f.y_mm)
    return Math.hypot(fx - x, fy - y)
  })
  const reach = ways.sort((a, b) => a - b)[Math.min(NEIGHBOURS, ways.length - 1)]! * 1.15
  return { x: x - reach * 1.6, y: y - reach, width: reach * 3.2, height: reach * 2 }
})
const view = computed(() => close.value ?? allOf.value)
/** The part with the heads that are in hand and their names. */
const allOf = computed(() => {
  const heads = extent(props.fasteners.filter((f) => f.in_hand).map((f) => place(f.x_mm, f.y_mm)))
  const [left, top] = turned.value ? [0, FRONT] : [FRONT, 0]
  const [wide, high] = turned.value ? [MARGIN + NAMES, MARGIN] : [MARGIN + 20, MARGIN + NAMES]
  const part = box.value
  const x = Math.min(part.x - MARGIN, heads.x - wide) - left
  const y = Math.min(part.y - MARGIN, heads.y - high) - top
  const right = Math.max(part.x + part.width + MARGIN, heads.x + heads.width + wide)
  const bottom = Math.max(part.y + part.height + MARGIN, heads.y + heads.height + high)
  return { x, y, width: right - x, height: bottom - y }
})
/** Groups that are not in hand are drawn back, under the others. */
const drawn = computed(() => [...props.fasteners].sort((a, b) => Number(a.in_hand) - Number(b.in_hand)))
/** The way to the nearest neighbour of any fastener in hand. */
const nearest = computed(() => {
  const all = props.fasteners.filter((f) => f.in_hand)
  const ways = all.flatMap((a, i) => all.slice(i + 1).map((b) => Math.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm)))
  return Math.min(...ways, Infinity) * scale.value
})
/** Heads are drawn larger than life, so that they can be read and touched. */
function radius(mark: Mark): number {
  if (!mark.in_hand) return props.small ? 5 : 9
  const thumb = screen.value && !props.small ? (THUMB / Math.sqrt(3) / screen.value) * view.value.width : 0
  return Math.min(Math.max(mark.diameter_mm * scale.value * 1.25, 13, thumb), nearest.value * APART)
}
/** A name fills its head, whatever its length. */
const nameSize = (mark: Mark) => Math.min(radius(mark) * 0.95, 16, (radius(mark) * 2.5) / Math.max(mark.id.length, 1))
const hexagon = (r: number) =>
  Array.from({ length: 6 }, (_, i) => {
    const angle = (Math.PI / 3) * i
    return `${r * Math.cos(angle)},${r * Math.sin(angle)}`
  }).join(' ')
/** The place in the order stands on the side away from the middle of the part, or wherever no other head is. */
function label(mark: Mark): { x: number; y: number; anchor: 'start' | 'middle' | 'end' } {
  const [x, y] = place(mark.x_mm, mark.y_mm)
  const r = radius(mark)
  const up = { x: 0, y: -r - 14, anchor: 'middle' } as const
  const down = { x: 0, y: r + 21, anchor: 'middle' } as const
  const left = { x: -r - 12, y: 4, anchor: 'end' } as const
  const right = { x: r + 12, y: 4, anchor: 'start' } as const
  const high = y < box.value.y + box.value.height / 2
  const places = turned.value
    ? x < box.value.x + box.value.width / 2
      ? [left, up, down]
      : [right, up, down]
    : high
      ? [up, right, left]
      : [down, right, left]
  const others = props.fasteners
    .filter((f) => f.id !== mark.id)
    .map((f) => [...place(f.x_mm, f.y_mm), radius(f)] as const)
  const middle = (at: (typeof places)[number]) => ({ start: 12, end: -12, middle: 0 })[at.anchor] + at.x
  const free = (at: (typeof places)[number]) =>
    others.every(([ox, oy, head]) => Math.hypot(ox - x - middle(at), oy - y - at.y + 4) > head + 9)
  return places.find(free) ?? places[0]!
}

/** Strokes at one place of a head are painted beside each other. */
const beside = (mark: Mark, at: number) =>
  7 * mark.strokes.slice(0, at).filter((other) => other.at_deg === mark.strokes[at]?.at_deg).length
const labels = computed(() => new Map(props.fasteners.map((mark) => [mark.id, label(mark)])))
const states = {
  waiting: t('bench-not-yet'),
  next: t('bench-next'),
  done: t('bench-done'),
  wrong: t('bench-wrong'),
} as const
/** What is seen of a fastener, and how it stands. */
const describe = (mark: Mark) =>
  [
    t('bench-in-the-sequence', { id: mark.id, mark: mark.number }),
    states[mark.state],
    ...mark.strokes.map((s) => t('bench-paint-mark-at', { clock: s.clock })),
  ].join(', ')
/** A cross of half this size. */
const cross = (r: number) => `M${-r} ${-r}L${r} ${r}M${r} ${-r}L${-r} ${r}`
</script>

<template>
  <div>
    <button
      v-if="crowded && !small"
      class="quiet-key min-h-11 py-1"
      :aria-pressed="whole"
      data-test="whole-part"
      @click="whole = !whole"
    >
      {{ whole ? t('bench-show-where-the-work-is') : t('bench-show-the-whole-part') }}
    </button>
    <svg
      ref="svg"
      :viewBox="`${view.x} ${view.y} ${view.width} ${view.height}`"
      class="block w-full"
      :class="small ? 'max-h-28' : !turned && 'max-h-[27rem]'"
      :role="small ? 'presentation' : 'group'"
      :aria-label="small ? undefined : drawing.name"
      :aria-hidden="small"
      :data-turned="turned"
      :data-close="!!close"
    >
      <g fill="none" stroke="var(--dim)" stroke-width="1.2" vector-effect="non-scaling-stroke">
        <PartOutline :drawing="drawing" :place="place" :scale="scale" filled />
        <path
          v-if="drawing.along"
          :d="
            turned
              ? `M${box.x + box.width / 2} ${box.y - 22}V${box.y + box.height + 14}`
              : `M${box.x - 22} ${box.y + box.height / 2}H${box.x + box.width + 14}`
          "
          stroke-dasharray="14 4 2 4"
          stroke-width="0.7"
        />
      </g>
      <g v-if="drawing.along && turned" :transform="`translate(${box.x + box.width / 2} ${box.y - 12})`">
        <path d="M-7 0 0-14 7 0z" fill="var(--ink)" />
        <text x="12" y="-3" font-size="13" fill="var(--ink)">{{ t('common-front') }}</text>
      </g>
      <g v-else-if="drawing.along" :transform="`translate(${box.x - 12} ${box.y + box.height / 2})`">
        <path d="M0-7-14 0 0 7z" fill="var(--ink)" />
        <text
          x="-4"
          y="-14"
          font-size="11"
          text-anchor="middle"
          fill="var(--ink)"
          transform="rotate(-90 -4 -14) translate(26 4)"
        >
          {{ t('common-front') }}
        </text>
      </g>
      <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -- a button in hand -->
      <g
        v-for="mark in drawn"
        :key="mark.id"
        :transform="`translate(${place(mark.x_mm, mark.y_mm).join(' ')})`"
        :class="small ? 'pointer-events-none' : mark.in_hand ? 'cursor-pointer' : 'pointer-events-none opacity-45'"
        :role="small ? undefined : mark.in_hand ? 'button' : 'img'"
        :tabindex="mark.in_hand && !small ? 0 : undefined"
        :aria-label="small ? undefined : describe(mark)"
        :data-test="small ? undefined : `map-${mark.id}`"
        :data-state="small ? undefined : mark.state"
        :data-strokes="small ? undefined : mark.strokes.length"
        @click="emit('select', mark.id)"
        @keydown.enter.stop.prevent="emit('select', mark.id)"
        @keydown.space.stop.prevent="emit('select', mark.id)"
      >
        <circle :r="Math.min(radius(mark) + 22, nearest / 2)" fill="transparent" />
        <circle
          v-if="mark.state === 'next'"
          :r="radius(mark) + 6"
          fill="none"
          stroke="var(--layout)"
          stroke-width="4"
          class="breathe"
        />
        <path v-if="marked?.includes(mark.id)" :d="cross(radius(mark) + 6)" stroke="var(--wrong)" stroke-width="4" />
        <circle
          v-if="mark.id === selected"
          :r="radius(mark) + 5"
          fill="none"
          stroke="var(--ink)"
          stroke-width="1.5"
          stroke-dasharray="4 3"
        />
        <path
          v-if="mark.state === 'wrong'"
          :d="`M0 ${-radius(mark) - 15}L${radius(mark) + 15} ${radius(mark) + 9}H${-radius(mark) - 15}z`"
          fill="var(--face)"
          stroke="var(--wrong)"
          stroke-width="4"
        />
        <polygon
          :points="hexagon(radius(mark))"
          :fill="mark.state === 'next' ? 'var(--layout)' : 'var(--plate)'"
          :stroke="mark.state === 'wrong' ? 'var(--wrong)' : 'var(--ink)'"
          :stroke-width="mark.state === 'waiting' ? 1 : 1.8"
          :data-test="small ? undefined : mark.in_hand ? 'head' : 'back'"
        />
        <line
          v-for="(stroke, at) in mark.strokes"
          :key="stroke.stage"
          :transform="`rotate(${stroke.at_deg}) translate(${beside(mark, at)} 0)`"
          :y1="-radius(mark) * 0.8"
          :y2="-radius(mark) - 9"
          stroke="var(--paint)"
          stroke-width="4.5"
          stroke-linecap="round"
        />
        <text
          v-if="named(mark)"
          text-anchor="middle"
          dominant-baseline="central"
          :font-size="nameSize(mark)"
          font-weight="600"
          :fill="mark.state === 'next' ? 'var(--on-layout)' : 'var(--ink)'"
        >
          {{ mark.id }}
        </text>
        <text
          v-if="mark.in_hand && named(mark) && !small"
          :x="labels.get(mark.id)?.x"
          :y="labels.get(mark.id)?.y"
          :text-anchor="labels.get(mark.id)?.anchor"
          :font-size="turned ? 13 : 11"
          fill="var(--dim)"
          stroke="var(--face)"
          stroke-width="4"
          paint-order="stroke"
        >
          {{ mark.number }}
        </text>
      </g>
    </svg>
  </div>
</template>
