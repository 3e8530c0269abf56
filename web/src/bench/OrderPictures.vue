<script setup lang="ts">
// The order of a group as one line through its fasteners, beside the other orders there could be.
import type { Schemas } from '../api/client'
import { roughly } from '../ui/units'
import { t } from './texts'

const props = defineProps<{ joint: Schemas['JointView'] }>()
const names = {
  'centre-out': t('bench-centre-out'),
  'outside-in': t('bench-outside-in'),
  'criss-cross': t('bench-criss-cross'),
  diagonal: t('bench-diagonal'),
  clockwise: t('bench-clockwise'),
  line: t('bench-in-line'),
  listed: t('bench-as-listed'),
} as const
const at = (id: string) => props.joint.fasteners.find((fastener) => fastener.id === id)
const line = (order: Schemas['OrderView']) =>
  order.fasteners.map((id) => [at(id)?.x_mm ?? 0, at(id)?.y_mm ?? 0] as const)
function view(order: Schemas['OrderView']): string {
  const [xs, ys] = [line(order).map((p) => p[0]), line(order).map((p) => p[1])]
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  const [width, height] = [Math.max(...xs) - x, Math.max(...ys) - y]
  const margin = 0.12 * Math.max(width, height)
  return [x - margin, y - margin, width + 2 * margin, height + 2 * margin].join(' ')
}
</script>

<template>
  <ul class="grid grid-cols-2 gap-x-4 gap-y-2 sm:grid-cols-3" data-test="orders">
    <li v-for="order in joint.orders" :key="order.pattern" :class="order.used ? 'font-semibold' : 'text-dim'">
      <svg
        :viewBox="view(order)"
        class="block h-20 w-full"
        role="img"
        :aria-label="`${names[order.pattern]}: ${order.fasteners.join(', ')}`"
      >
        <polyline
          :points="
            line(order)
              .map((p) => p.join(','))
              .join(' ')
          "
          fill="none"
          :stroke="order.used ? 'var(--layout)' : 'var(--dim)'"
          :stroke-width="order.used ? 3 : 1.5"
          vector-effect="non-scaling-stroke"
          stroke-linejoin="round"
        />
        <g v-for="(p, n) in line(order)" :key="n" :transform="`translate(${p.join(' ')})`">
          <circle
            :r="n === 0 ? 12 : 7"
            :fill="n === 0 ? 'var(--paint)' : 'var(--face)'"
            stroke="var(--ink)"
            stroke-width="1.5"
            vector-effect="non-scaling-stroke"
          />
        </g>
      </svg>
      {{ names[order.pattern] }}
      <span class="block font-normal text-dim">{{ t('bench-off-centre', { stray_mm: roughly(order.stray_mm) }) }}</span>
    </li>
  </ul>
  <p class="text-dim">
    {{ t('bench-the-line-starts-at-the-large') }}
  </p>
</template>
