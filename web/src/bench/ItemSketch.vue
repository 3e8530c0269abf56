<script setup lang="ts">
// How something has to lie, drawn: right on the left, wrong on the right.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { t } from './texts'

const props = defineProps<{ sketch: Schemas['ItemSketch'] }>()
const caps = computed(() => (props.sketch.kind === 'cap-arrows' ? props.sketch.caps : 0))
const gaps = computed(() => (props.sketch.kind === 'ring-clocking' ? props.sketch.gaps : []))
const sides = computed(() =>
  props.sketch.kind === 'ring-clocking' ? [{ wrong: false }] : [{ wrong: false }, { wrong: true }],
)
const names = {
  'cap-arrows': t('bench-caps-in-a-row-every-arrow'),
  'tang-side': t('bench-both-shell-tangs-on-one-side'),
  'ring-clocking': t('bench-ring-gaps-round-the-piston-seen'),
  'gasket-front': t('bench-gasket-with-its-mark-to-the'),
  'washer-chamfer': t('bench-washer-with-its-chamfer-to-the'),
} as const

/** A point on a circle, degrees clockwise from the front, which is up. */
const around = (deg: number, radius: number) => {
  const turn = (deg * Math.PI) / 180
  return { x: Math.sin(turn) * radius, y: -Math.cos(turn) * radius }
}
/** The arc of a ring that leaves its gap open. */
function ringArc(at: number, radius: number): string {
  const [a, b] = [around(at + 7, radius), around(at - 7, radius)]
  return `M${a.x} ${a.y}A${radius} ${radius} 0 1 1 ${b.x} ${b.y}`
}
const capX = (number: number) => ((number - 0.5) / caps.value) * 200
const turned = (number: number, wrong: boolean) => wrong && number === Math.ceil(caps.value / 2) + 1
</script>

<template>
  <div class="grid gap-x-8 gap-y-3 sm:grid-cols-2" role="img" :aria-label="names[sketch.kind]" data-test="sketch">
    <figure v-for="{ wrong } in sides" :key="String(wrong)" class="w-full max-w-96">
      <svg
        :viewBox="sketch.kind === 'ring-clocking' ? '-150 -92 300 184' : '0 0 240 122'"
        class="w-full"
        fill="none"
        stroke="var(--ink)"
        stroke-width="1.6"
      >
        <g v-if="sketch.kind === 'cap-arrows'" transform="translate(30 8)">
          <g v-for="number in caps" :key="number" :transform="`translate(${capX(number)} 0)`">
            <rect :x="-78 / caps" y="6" :width="156 / caps" height="84" rx="3" />
            <text y="104" text-anchor="middle" font-size="13" fill="var(--ink)" stroke="none">{{ number }}</text>
            <path
              :transform="`translate(0 48) scale(${turned(number, wrong) ? -1 : 1} 1)`"
              d="M-9 0 3-8V-3H9V3H3V8z"
              :fill="turned(number, wrong) ? 'var(--wrong)' : 'var(--layout)'"
              stroke="none"
            />
          </g>
          <text x="-26" y="52" font-size="13" fill="var(--dim)" stroke="none">{{ t('bench-front') }}</text>
        </g>
        <g v-else-if="sketch.kind === 'tang-side'" transform="translate(120 56)">
          <path d="M-46 0A46 46 0 0 1 46 0M-38 0A38 38 0 0 1 38 0" />
          <path d="M-46 3A46 46 0 0 0 46 3M-38 3A38 38 0 0 0 38 3" />
          <path d="M-96 1.5H-54M54 1.5H96" stroke-dasharray="7 4" stroke="var(--dim)" />
          <path d="M46 0V-9H55V0" :fill="wrong ? 'var(--wrong)' : 'var(--layout)'" stroke="none" />
          <path
            :d="wrong ? 'M-46 3V12H-55V3' : 'M46 3V12H55V3'"
            :fill="wrong ? 'var(--wrong)' : 'var(--layout)'"
            stroke="none"
          />
        </g>
        <g v-else-if="sketch.kind === 'gasket-front'" transform="translate(24 14)">
          <path d="M6 0H190Q196 0 196 6V76Q196 82 190 82H6Q0 82 0 76V6Q0 0 6 0z" />
          <circle v-for="n in 4" :key="n" :cx="n * 40 - 2" cy="41" r="17" />
          <path
            :d="wrong ? 'M196 30h-10v22h10' : 'M0 30h10v22H0'"
            :fill="wrong ? 'var(--wrong)' : 'var(--layout)'"
            stroke="none"
          />
          <text x="-20" y="100" font-size="13" fill="var(--dim)" stroke="none">{{ t('bench-front') }}</text>
          <circle :cx="wrong ? 182 : 14" cy="12" r="4" />
        </g>
        <g v-else-if="sketch.kind === 'washer-chamfer'" transform="translate(120 8)">
          <path d="M-40 4H40V40H-40zM-15 40V104M15 40V104" />
          <path d="M-15 46Q-15 40-21 40M15 46Q15 40 21 40" />
          <g :fill="wrong ? 'var(--wrong)' : 'var(--layout)'" stroke="none">
            <template v-if="wrong">
              <path d="M-44 42H-16V60L-23 60 -44 60z M44 42H16V60H44z" />
              <path d="M-16 60 -16 52 -23 60zM16 60V52L23 60z" fill="var(--face)" />
            </template>
            <template v-else>
              <path d="M-44 42H-24L-16 50V60H-44zM44 42H24L16 50V60H44z" />
            </template>
          </g>
          <path d="M-70 60H-44M70 60H44" stroke="var(--dim)" />
        </g>
        <g v-else-if="sketch.kind === 'ring-clocking'">
          <path d="M0 4V-18M-6-11 0-21 6-11" stroke="var(--dim)" />
          <text y="20" text-anchor="middle" font-size="12" fill="var(--dim)" stroke="none">{{ t('bench-front') }}</text>
          <path d="M-140 0H-84M84 0H140" stroke="var(--dim)" stroke-dasharray="6 4" />
          <text x="-116" y="-5" text-anchor="middle" font-size="12" fill="var(--dim)" stroke="none">
            {{ t('bench-thrust') }}
          </text>
          <text x="116" y="-5" text-anchor="middle" font-size="12" fill="var(--dim)" stroke="none">
            {{ t('bench-thrust') }}
          </text>
          <g v-for="(gap, at) in gaps" :key="gap.ring">
            <path :d="ringArc(gap.at_deg, 76 - at * 10)" stroke-width="3" />
            <line
              v-bind="{
                x1: around(gap.at_deg, 76 - at * 10).x,
                y1: around(gap.at_deg, 76 - at * 10).y,
                x2: around(gap.at_deg, 92).x,
                y2: around(gap.at_deg, 92).y,
              }"
              stroke="var(--layout)"
              stroke-width="2"
            />
            <text
              :x="around(gap.at_deg, 96).x"
              :y="around(gap.at_deg, 92).y + (around(gap.at_deg, 92).y < 0 ? -2 : 10)"
              :text-anchor="around(gap.at_deg, 1).x < -0.2 ? 'end' : around(gap.at_deg, 1).x > 0.2 ? 'start' : 'middle'"
              font-size="12"
              font-weight="600"
              fill="var(--layout)"
              stroke="none"
            >
              {{ gap.ring }} {{ Math.round(gap.at_deg) }}°
            </text>
          </g>
        </g>
      </svg>
      <figcaption v-if="sides.length > 1" :class="wrong ? 'font-semibold text-wrong' : 'text-dim'">
        {{ wrong ? t('bench-wrong-2') : t('common-right') }}
      </figcaption>
    </figure>
  </div>
</template>
