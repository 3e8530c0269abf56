<script setup lang="ts">
// The climb to a stretch: torque against stretch, what the bolt has shown, its line and where that leads.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { digits, figure } from '../ui/units'
import { t } from './texts'

const props = defineProps<{
  climb: Schemas['StretchStepsView']
  fastener: string
  /** Whether only what was read is shown, not what follows from it. */ quiet?: boolean
}>()
const WIDTH = 380
const HEIGHT = 250
const length = (mm: number) => digits(mm, 'clearance')
const torque = (nm: number) => digits(nm, 'torque')

/** As far as it is drawn: past the yield of a bolt with this friction, or where that is far, past its next torque. */
const most = computed(() => {
  const { next_nm, yield_nm, limit_nm, points } = props.climb
  const seen = Math.max(next_nm, ...points.map((p) => p.torque_nm), props.climb.window.target / props.climb.slope[1]!)
  return {
    nm: Math.min((yield_nm ?? Infinity) * 1.06, Math.max(seen * 1.35, Math.min(limit_nm * 1.1, seen * 2))),
    mm: props.climb.window.high * 1.3,
  }
})
const x = (nm: number) => (Math.min(nm, most.value.nm) / most.value.nm) * WIDTH
const y = (mm: number) => HEIGHT - (Math.min(mm, most.value.mm) / most.value.mm) * HEIGHT
/** A line from nothing on, as far as it can be seen. */
const ray = (slope: number) => {
  const nm = Math.min(most.value.nm, most.value.mm / slope)
  return `${x(nm)},${y(nm * slope)}`
}
const band = computed(() => `0,${HEIGHT} ${ray(props.climb.slope[2]!)} ${ray(props.climb.slope[0]!)}`)
const known = computed(() => props.climb.nut_factor != null)
/** Without the shape of the bolt nothing is known of its yield: a torque limits it. */
const byTorque = computed(() => props.climb.yield_nm == null)
const limits = computed(() => {
  const { limit_nm, yield_nm, utilisation } = props.climb
  const ofYield = t('bench-of-yield', { utilisation: Math.round(utilisation * 100) })
  const limit = { nm: limit_nm, name: byTorque.value ? t('bench-torque-limit') : ofYield, dash: '7 4' }
  const yields = { nm: yield_nm ?? Infinity, name: t('bench-yield'), dash: '' }
  return [limit, yields].filter((line) => !props.quiet && line.nm <= most.value.nm)
})
const bounds = computed<Record<Schemas['TorqueBound'], string>>(() => ({
  qualified: t('bench-torque-that-stretched-the-first-bolt'),
  first: byTorque.value ? t('bench-below-the-torque-limit') : t('bench-safe-at-any-friction-of-this'),
  wanted: byTorque.value ? t('bench-target-stretch-in-proportion') : t('bench-target-stretch-at-the-friction-measured'),
  step: t('bench-largest-step-in-the-plan'),
  utilisation: byTorque.value ? t('bench-torque-limit-of-the-plan') : t('bench-yield-limit-of-the-plan'),
}))
</script>

<template>
  <figure class="flex flex-col gap-1" data-test="climb">
    <svg
      :viewBox="`-46 -18 ${WIDTH + 60} ${HEIGHT + 70}`"
      class="block w-full"
      role="img"
      :aria-label="t('bench-torque-against-stretch-of', { fastener })"
    >
      <rect
        x="0"
        :y="y(climb.window.high)"
        :width="WIDTH"
        :height="y(climb.window.low) - y(climb.window.high)"
        fill="var(--layout)"
        opacity="0.18"
      />
      <line
        x1="0"
        :x2="WIDTH"
        :y1="y(climb.window.target)"
        :y2="y(climb.window.target)"
        stroke="var(--layout)"
        stroke-width="1.5"
      />
      <text x="-5" :y="y(climb.window.target) + 4" text-anchor="end" font-size="15" fill="var(--layout)">
        {{ length(climb.window.target) }}
      </text>
      <polygon v-if="!quiet && climb.slope[2]! > climb.slope[0]!" :points="band" fill="var(--dim)" opacity="0.16" />
      <polyline
        v-if="!quiet"
        :points="`0,${HEIGHT} ${ray(climb.slope[1]!)}`"
        fill="none"
        stroke="var(--ink)"
        :stroke-width="known ? 1.5 : 1"
        :stroke-dasharray="known ? '' : '4 4'"
      />
      <template v-for="limit in limits" :key="limit.name">
        <line
          :x1="x(limit.nm)"
          :x2="x(limit.nm)"
          y1="0"
          :y2="HEIGHT"
          stroke="var(--wrong)"
          stroke-width="2"
          :stroke-dasharray="limit.dash"
        />
        <text :x="x(limit.nm) - 4" y="-5" text-anchor="end" font-size="14" fill="var(--wrong)">{{ limit.name }}</text>
      </template>
      <line x1="0" :x2="WIDTH" :y1="HEIGHT" :y2="HEIGHT" stroke="var(--ink)" />
      <line x1="0" x2="0" y1="0" :y2="HEIGHT" stroke="var(--ink)" />
      <line
        v-if="climb.on_nm != null"
        :x1="x(climb.on_nm)"
        :x2="x(climb.on_nm)"
        y1="0"
        :y2="HEIGHT"
        stroke="var(--ink)"
        stroke-width="3"
        class="breathe"
      />
      <g v-else-if="!quiet">
        <path :d="`M${x(climb.next_nm)} ${HEIGHT}l-8 14h16z`" fill="var(--layout)" />
        <text
          :x="x(climb.next_nm)"
          :y="HEIGHT + 30"
          text-anchor="middle"
          font-size="14"
          font-weight="600"
          fill="var(--layout)"
        >
          {{ torque(climb.next_nm) }}
        </text>
        <line
          :x1="x(climb.next_nm)"
          :x2="x(climb.next_nm)"
          :y1="y(climb.next_nm * climb.slope[1]!)"
          :y2="HEIGHT"
          stroke="var(--layout)"
          stroke-width="1.5"
          stroke-dasharray="3 3"
        />
      </g>
      <g v-for="(point, at) in climb.points" :key="at">
        <circle
          :cx="x(point.torque_nm)"
          :cy="y(point.stretch_mm)"
          r="6"
          fill="var(--paint)"
          stroke="var(--ink)"
          stroke-width="1.5"
        />
        <text
          :x="x(point.torque_nm) - 9"
          :y="y(point.stretch_mm) - 5"
          text-anchor="end"
          font-size="14"
          fill="var(--ink)"
        >
          {{ torque(point.torque_nm) }}, {{ length(point.stretch_mm) }}
        </text>
      </g>
      <text :x="WIDTH" :y="HEIGHT + 48" text-anchor="end" font-size="14" fill="var(--dim)">
        {{ t('bench-torque') }}
      </text>
      <text x="6" y="10" font-size="14" fill="var(--dim)">{{ t('bench-stretch') }}</text>
    </svg>
    <figcaption v-if="!quiet" class="flex flex-col gap-1">
      <p v-if="climb.free_mm != null" class="text-dim" data-test="free">
        {{ t('bench-free-length', { free_mm: figure(climb.free_mm, 'length') }) }}
      </p>
      <p v-else-if="climb.free_missing" class="font-semibold text-wrong" data-test="free">
        {{ t('bench-free-length-not-measured-permanent-stretch') }}
      </p>
      <p v-if="known" data-test="friction">
        K {{ climb.nut_factor!.toFixed(3)
        }}<template v-if="climb.error != null"> ± {{ climb.error.toFixed(3) }}</template>
        <span class="text-dim">{{ ' ' }}{{ t('bench-from-pulls-of', { count: climb.points.length, fastener }) }}</span>
      </p>
      <p v-if="climb.on_nm == null" class="text-dim" data-test="bound">
        {{ figure(climb.next_nm, 'torque') }}: {{ bounds[climb.bound] }}.
      </p>
      <p v-if="climb.says" class="font-semibold text-wrong" data-test="climb-says">
        ▲ {{ climb.says }}{{ climb.says.endsWith('?') ? '' : '.' }}
      </p>
    </figcaption>
  </figure>
</template>
