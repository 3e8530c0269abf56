<script setup lang="ts">
// The outline of a part as its plan draws it, in true proportions.
import type { Schemas } from '../api/client'

const props = withDefaults(
  defineProps<{
    drawing: Schemas['Drawing']
    /** Where a point of the plan stands in the picture; at its own place where that is not said. */
    place?: (x: number, y: number) => readonly [number, number]
    /** How long a millimetre is in the picture. */
    scale?: number
    /** Whether outlines are filled. */
    filled?: boolean
  }>(),
  { place: (x: number, y: number) => [x, y] as const, scale: 1 },
)
const points = (of: readonly number[][]) => of.map((point) => props.place(point[0]!, point[1]!).join(',')).join(' ')
</script>

<template>
  <template v-for="(shape, at) in drawing.shapes" :key="at">
    <polygon
      v-if="shape.kind === 'outline'"
      :points="points(shape.points)"
      :fill="filled ? 'var(--face)' : undefined"
      vector-effect="non-scaling-stroke"
    />
    <polyline v-else-if="shape.kind === 'line'" :points="points(shape.points)" vector-effect="non-scaling-stroke" />
    <circle
      v-else
      :cx="place(shape.at[0]!, shape.at[1]!)[0]"
      :cy="place(shape.at[0]!, shape.at[1]!)[1]"
      :r="(shape.diameter / 2) * scale"
      stroke-dasharray="7 3 1.5 3"
      vector-effect="non-scaling-stroke"
    />
  </template>
</template>
