<script setup lang="ts">
// The order of the fasteners of a group, made by tapping them one after the other; drawn as a line through them.
import { computed } from 'vue'
import type { Fields } from './format'
import { t } from '../texts'

const props = defineProps<{ label: string; group: Fields }>()
const order = defineModel<string[]>({ required: true })

interface Place {
  id: string
  x: number
  y: number
}
const pair = (at: unknown) => (Array.isArray(at) ? at.map(Number) : [0, 0]) as [number, number]
/** Single fasteners, and those of rows. */
const places = computed<Place[]>(() => {
  const single = ((props.group.position ?? []) as Fields[]).map((of) => {
    const [x, y] = pair(of.at)
    return { id: String(of.id ?? ''), x, y }
  })
  const rows = ((props.group.row ?? []) as Fields[]).flatMap((row) => {
    const [[x, y], [toX, toY]] = [pair(row.from), pair(row.to)]
    const count = Math.max(2, Number(row.count) || 2)
    return Array.from({ length: count }, (_, at) => ({
      id: String(row.id ?? '*').replace('*', String(Number(row.first ?? 1) + at)),
      x: x + ((toX - x) * at) / (count - 1),
      y: y + ((toY - y) * at) / (count - 1),
    }))
  })
  return [...single, ...rows]
})
const box = computed(() => {
  const [xs, ys] = [places.value.map((of) => of.x), places.value.map((of) => of.y)]
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  const [width, height] = [Math.max(...xs) - x, Math.max(...ys) - y]
  const size = Math.max(width, height, 40)
  const margin = size * 0.08
  return { x: x - margin, y: y - margin, width: width + 2 * margin, height: height + 2 * margin, size }
})
const radius = computed(() => {
  const far = places.value.flatMap((a, at) => places.value.slice(at + 1).map((b) => Math.hypot(a.x - b.x, a.y - b.y)))
  return Math.min(box.value.size * 0.05, Math.max(box.value.size * 0.014, Math.min(Infinity, ...far) * 0.42))
})
const listed = computed(() => order.value.filter((id) => places.value.some((of) => of.id === id)))
const line = computed(() =>
  listed.value.map((id) => places.value.find((of) => of.id === id)!).map((of) => `${of.x},${of.y}`),
)
function tap(id: string) {
  order.value = listed.value.includes(id) ? listed.value.filter((of) => of !== id) : [...listed.value, id]
}
const numberOf = (id: string) => listed.value.indexOf(id) + 1
</script>

<template>
  <fieldset class="min-w-0">
    <legend class="label-text">{{ label }}</legend>
    <p v-if="!places.length" class="text-dim">{{ t('plans-add-the-fasteners-first') }}</p>
    <template v-else>
      <svg
        :viewBox="`${box.x} ${box.y} ${box.width} ${box.height}`"
        class="block max-h-80 w-full"
        role="group"
        :aria-label="label"
        data-test="order"
      >
        <polyline
          :points="line.join(' ')"
          fill="none"
          stroke="var(--layout)"
          :stroke-width="radius * 0.2"
          stroke-linejoin="round"
        />
        <g
          v-for="of in places"
          :key="of.id"
          :transform="`translate(${of.x} ${of.y})`"
          role="button"
          tabindex="0"
          class="cursor-pointer"
          :aria-pressed="numberOf(of.id) > 0"
          :aria-label="numberOf(of.id) ? t('plans-comes-as', { id: of.id, number: numberOf(of.id) }) : of.id"
          :data-test="`order-${of.id}`"
          @click="tap(of.id)"
          @keydown.enter.prevent="tap(of.id)"
          @keydown.space.prevent="tap(of.id)"
        >
          <circle
            :r="radius"
            :fill="numberOf(of.id) ? 'var(--layout)' : 'var(--plate)'"
            stroke="var(--ink)"
            :stroke-width="radius * 0.1"
          />
          <text
            text-anchor="middle"
            dominant-baseline="central"
            :font-size="radius"
            font-weight="600"
            :fill="numberOf(of.id) ? 'var(--plate)' : 'var(--ink)'"
          >
            {{ numberOf(of.id) || of.id }}
          </text>
        </g>
      </svg>
      <div class="flex flex-wrap items-center gap-x-4">
        <span>{{ t('plans-tapped-of', { tapped: listed.length, all: places.length }) }}</span>
        <button
          type="button"
          class="quiet-key min-h-11"
          :disabled="!listed.length"
          @click="order = listed.slice(0, -1)"
        >
          {{ t('plans-take-back-last') }}
        </button>
        <button type="button" class="quiet-key min-h-11" :disabled="!listed.length" @click="order = []">
          {{ t('plans-start-again') }}
        </button>
        <span class="text-dim">{{ listed.join(', ') }}</span>
      </div>
    </template>
  </fieldset>
</template>
