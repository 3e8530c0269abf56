<script setup lang="ts">
// What to give to which fastener, large: target, limits, and what came of the pull before.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import type { Live } from '../api/live'
import { digits, figure } from '../ui/units'
import ReadingScale from './ReadingScale.vue'
import { t } from './texts'

const props = defineProps<{
  step: Schemas['PullStep']
  asks: Schemas['PullStep']['asks']
  stage: Schemas['StageView'] | undefined
  target: Schemas['PullStep']['target']
  unit: string
  fastener: string
  /** The joint, where the operation has several. */
  joint: string
  /** Whether the place in the order is that of another fastener. */
  elsewhere: boolean
  /** Whether another fastener was tapped than the next one. */
  off: boolean
  /** Whether it has had what it may have only once. */
  had: boolean
  /** What the fastener is reached through. */
  through: string
  last: Schemas['PullView'] | undefined
  live: Live | null
}>()
defineEmits<{ void: [] }>()
const scale = computed(() => props.target.unit)
/** Whether it is a torque on the way to a stretch: only a limit is asked for. */
const climbs = computed(() => !!props.step.climb && props.target.dimension === 'torque')

/** Why a torque on the way to a stretch goes no further than it may. */
function whyMost(climb: Schemas['StretchStepsView']): string {
  const by = climb.nut_factor == null ? '' : t('bench-at-its-measured-friction')
  const share = t('bench-of-its-yield', { utilisation: Math.round(climb.utilisation * 100), by })
  if (climb.most_nm == null) return share
  return climb.limit_nm < climb.most_nm - 0.05
    ? t('bench-the-plan-says', { share, most_nm: figure(climb.most_nm, 'torque', scale.value) })
    : t('bench-as-the-plan-says')
}
</script>

<template>
  <div class="flex flex-wrap items-end justify-between gap-x-4">
    <div>
      <p class="text-xl text-dim">
        {{ asks.head ? t('common-pull') : t('common-no') }} {{ elsewhere ? '' : step.number }} {{ step.group
        }}{{ joint ? `, ${joint}` : '' }}
      </p>
      <p class="far" data-test="fastener">{{ fastener }}</p>
    </div>
    <div class="ml-auto text-right">
      <p class="text-xl text-dim">{{ stage?.name }}{{ asks.head && `, ${asks.head}` }}</p>
      <p v-if="asks.head" class="font-semibold whitespace-nowrap text-layout" data-test="target">
        <span class="far">{{ digits(live ? live.value : target.shown, target.dimension, scale) }}</span>
        <span class="text-4xl" :class="target.dimension !== 'angle' && 'ml-2'">{{ unit }}</span>
      </p>
    </div>
  </div>
  <p v-if="asks.question" class="text-4xl font-semibold text-layout" data-test="question">{{ asks.question }}</p>
  <p v-if="through && target.dimension === 'torque'" class="text-xl" data-test="adapter">
    {{ t('bench-through') }} <span class="font-semibold">{{ through }}</span>
  </p>
  <div v-if="had" role="alert" class="border-4 border-wrong p-3" data-test="had-once">
    <p class="text-3xl font-semibold text-wrong">{{ t('bench-has-had', { fastener, stage: stage?.name }) }}</p>
    <p class="text-xl">{{ t('bench-once-only-do-not-turn-it') }}</p>
  </div>
  <p v-if="off" class="font-semibold text-wrong">
    {{ t('bench-is-next-a-pull-on-is', { fastener: step.fastener, chosen: fastener }) }}
  </p>
  <div class="flex min-h-11 flex-wrap items-baseline justify-between gap-x-4">
    <p v-if="last" :class="last.wrong && 'text-wrong'" data-test="verdict">
      <span class="text-dim">{{ last.fastener }} {{ figure(last.value, last.dimension) }}</span>
      <span class="ml-3 inline-block text-3xl font-semibold">
        <span v-if="last.verdict === 'good'" class="paint-stroke" aria-hidden="true" />
        <span v-else aria-hidden="true">{{ last.wrong ? '▲ ' : '▽ ' }}</span>
        {{ last.says }}
      </span>
      <button class="quiet-key ml-2 min-h-11 px-1" data-test="void-last" @click="$emit('void')">
        {{ t('common-void') }}
      </button>
    </p>
    <p v-if="target.dimension !== 'count'" class="ml-auto text-xl whitespace-nowrap text-dim">
      <template v-if="step.climb && climbs"
        >{{ t('bench-max-2', { high: figure(target.high, 'torque', scale) })
        }}<span class="block text-base whitespace-normal" data-test="why-most">{{
          whyMost(step.climb)
        }}</span></template
      >
      <template v-else>{{
        t('common-to', {
          low: figure(target.low, target.dimension, scale),
          high: figure(target.high, target.dimension, scale),
        })
      }}</template>
    </p>
  </div>
  <ReadingScale v-if="asks.head && target.dimension === asks.dimension && !climbs" :target="target" :live="live" />
</template>
