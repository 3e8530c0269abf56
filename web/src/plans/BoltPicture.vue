<script setup lang="ts">
// A bolt lying on its side with the lengths that are typed, in their proportions as far as they are known.
import { computed } from 'vue'
import { t } from './texts'

const props = defineProps<{
  segments: { length: string; diameter: string }[]
  end: string
  head: string
  clamp: string
  outer: string
}>()
const number = (text: string) => {
  const value = Number.parseFloat(text.replace(',', '.'))
  return Number.isFinite(value) && value > 0 ? value * (/in|"/.test(text) ? 25.4 : 1) : 0
}
const known = computed(() => {
  const lengths = props.segments.map((of) => number(of.length))
  const least = Math.max(8, ...lengths) * 0.18
  const shanks = props.segments.map((of) => number(of.diameter)).filter(Boolean)
  const d = Math.max(1, ...shanks) || 10
  let x = 0
  const parts = props.segments.map((of, at) => {
    const long = lengths[at] || least
    const part = {
      x,
      long,
      d: number(of.diameter) || d * 0.85,
      thread: of.diameter.trim() === 'thread',
      name: String.fromCharCode(65 + at),
    }
    x += long
    return part
  })
  return { parts, long: x, d, head: d * 0.7, foot: d * (props.end === 'nut' ? 0.8 : 1.2) }
})
const box = computed(() => ({
  x: -known.value.head - known.value.d,
  width: known.value.long + known.value.head + known.value.foot + 2 * known.value.d,
  high: known.value.d * 2.6,
}))
</script>

<template>
  <svg
    :viewBox="`${box.x} ${-box.high / 2} ${box.width} ${box.high}`"
    class="block max-h-32 w-full"
    role="img"
    :aria-label="t('plans-the-bolt-head-to-the-left')"
    fill="var(--plate)"
    stroke="var(--ink)"
    :stroke-width="known.d * 0.04"
  >
    <rect
      :x="-known.head"
      :y="-known.d * (head === 'hex' ? 0.85 : 0.75)"
      :width="known.head"
      :height="known.d * (head === 'hex' ? 1.7 : 1.5)"
    />
    <g v-for="part in known.parts" :key="part.name">
      <rect :x="part.x" :y="-part.d / 2" :width="part.long" :height="part.d" />
      <path
        v-if="part.thread"
        :d="
          Array.from(
            { length: 9 },
            (_, n) => `M${part.x + (part.long * (n + 0.5)) / 9} ${-part.d / 2}l${known.d * 0.06} ${part.d}`,
          ).join('')
        "
      />
      <text
        :x="part.x + part.long / 2"
        :y="known.d * 1.1"
        :font-size="known.d * 0.5"
        text-anchor="middle"
        fill="var(--layout)"
        stroke="none"
      >
        {{ part.name }}
      </text>
    </g>
    <rect
      :x="known.long"
      :y="-known.d * (end === 'nut' ? 0.85 : 0.425)"
      :width="known.foot"
      :height="known.d * (end === 'nut' ? 1.7 : 0.85)"
      :stroke-dasharray="end === 'nut' ? undefined : `${known.d * 0.2} ${known.d * 0.12}`"
    />
  </svg>
</template>
