<script setup lang="ts">
// Which promise holds, in the order that keeps most: the work that is left, when it can be ready, and when it was
// promised for, on one line of days.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { hours, near } from './dates'
import { t } from './texts'

const props = defineProps<{
  promised: Schemas['PromiseList']
  unpromised: Schemas['UnpromisedEngines']
  today: string
  most: number
}>()
const emit = defineEmits<{ more: [] }>()
const DAY = 86_400_000
const WEEKS = 8
const engines = computed(() => props.promised.engines)
const start = computed(() => Date.parse(props.today))
/** The last day that is drawn. */
const end = computed(() => {
  const last = engines.value
    .flatMap((engine) => [engine.promised, engine.ready])
    .flatMap((iso) => (iso ? [Date.parse(iso)] : []))
  return Math.min(Math.max(start.value + 14 * DAY, ...last) + DAY, start.value + WEEKS * 7 * DAY)
})
const x = (iso: string) =>
  Math.max(0, Math.min(100, ((Date.parse(iso) - start.value) / (end.value - start.value)) * 100))
/** A Monday every week, to read the line by. */
const mondays = computed(() => {
  const all: string[] = []
  for (let at = start.value; at < end.value; at += DAY)
    if (new Date(at).getUTCDay() === 1) all.push(new Date(at).toISOString().slice(0, 10))
  return all
})
const words = (engine: Schemas['DayPromise']) =>
  !engine.ready
    ? t('day-no-date')
    : engine.late
      ? t('day-ready-late', { ready: near(engine.ready) })
      : t('day-ready', { time: near(engine.ready) })
function spread({ minutes, low_min, high_min, known }: Schemas['RemainingWork']): string {
  const between = high_min - low_min > 30 ? t('day-hours-between', { low: hours(low_min), high: hours(high_min) }) : ''
  return t('day-work-left', { work: hours(minutes), between, basis: known >= 0.5 ? '' : t('day-by-the-plan') })
}
</script>

<template>
  <section aria-labelledby="promised" data-test="promised">
    <h2 id="promised" class="text-2xl font-semibold">
      {{ t('day-due-dates') }}
      <span v-if="promised.all" class="text-lg font-normal" :class="promised.late ? 'text-wrong' : 'text-dim'">{{
        promised.late
          ? t('day-of-late', { late: promised.late, all: promised.all })
          : promised.all === 1
            ? t('day-on-time')
            : t('day-all-on-time', { all: promised.all })
      }}</span>
    </h2>
    <p v-if="!promised.all" class="text-dim">{{ t('day-no-engine-has-a-due-date') }}</p>
    <p
      v-if="promised.all"
      class="relative mt-1 h-6 text-dim max-sm:hidden sm:mr-[18rem] sm:ml-[14rem]"
      aria-hidden="true"
    >
      <span
        v-for="monday in mondays.slice(0, 6)"
        :key="monday"
        class="absolute -translate-x-1/2 whitespace-nowrap"
        :style="{ left: `${x(monday)}%` }"
        >{{ near(monday) }}</span
      >
    </p>
    <ol v-if="promised.all">
      <li
        v-for="(engine, index) in engines"
        :key="engine.id"
        :class="[
          'grid items-center gap-x-4 gap-y-1',
          'border-b border-rule py-1 sm:grid-cols-[1rem_11rem_minmax(0,1fr)_17rem]',
        ]"
        :data-test="`promise-${engine.name}`"
        :data-late="!engine.holds"
      >
        <span class="text-dim max-sm:hidden">{{ index + 1 }}</span>
        <RouterLink :to="`/engines/${engine.id}`" class="font-semibold underline-offset-4 hover:underline">{{
          engine.name
        }}</RouterLink>
        <svg
          class="h-8 w-full"
          viewBox="0 0 100 16"
          preserveAspectRatio="none"
          role="img"
          :aria-label="t('day-due-2', { promised: near(engine.promised), engine: words(engine) })"
        >
          <path
            v-for="monday in mondays"
            :key="monday"
            :d="`M${x(monday)} 0V16`"
            stroke="var(--rule)"
            vector-effect="non-scaling-stroke"
          />
          <path
            v-if="engine.ready"
            :d="`M0 8H${x(engine.ready)}`"
            :stroke="engine.late ? 'var(--wrong)' : 'var(--ink)'"
            stroke-width="5"
            vector-effect="non-scaling-stroke"
            :stroke-dasharray="engine.late ? '7 3' : undefined"
          />
          <path
            :d="`M${x(engine.promised)} 1V15`"
            stroke="var(--layout)"
            stroke-width="4"
            vector-effect="non-scaling-stroke"
          />
        </svg>
        <p>
          <span class="text-layout">{{ t('day-due', { promised: near(engine.promised) }) }}</span>,
          <span :class="!engine.holds && 'font-semibold text-wrong'"
            ><span v-if="!engine.holds" aria-hidden="true">▲ </span>{{ words(engine) }}</span
          >
          <span class="block text-dim">{{ spread(engine.remaining) }}</span>
        </p>
      </li>
    </ol>
    <button v-if="engines.length < promised.all && engines.length < most" class="key mt-3" @click="emit('more')">
      {{ t('day-more-due-dates', { all: promised.all - engines.length }) }}
    </button>
    <p v-if="unpromised.all" class="mt-2 text-dim">
      {{ t('day-no-due-date') }}
      <template v-for="(engine, index) in unpromised.engines" :key="engine.id"
        >{{ index ? ', ' : '' }}{{ engine.name }} {{ hours(engine.remaining.minutes) }}</template
      ><template v-if="unpromised.all > unpromised.engines.length">
        {{ ' ' }}{{ t('day-and-more', { all: unpromised.all - unpromised.engines.length }) }}</template
      >.
    </p>
  </section>
</template>
