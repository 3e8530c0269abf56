<script setup lang="ts">
// The day: what can be started now, what waits for what, what to order, and which promise holds.
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { isLead } from '../api/session'
import DueInstruments from '../shop/DueInstruments.vue'
import { person } from '../ui/preferences'
import StateMark from '../ui/StateMark.vue'
import CalendarFeed from './CalendarFeed.vue'
import { inHours, near, until } from './dates'
import HoursForm from './HoursForm.vue'
import PromiseList from './PromiseList.vue'
import { say } from '../ui/units'
import ChoiceTabs from '../ui/ChoiceTabs.vue'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

/** Rows that a list shows more of at a time, and at most. */
const MORE = 60
const MOST = 400
/** Whose day it is: everybody's where nobody is chosen. */
const who = ref('')
const shown = reactive({ can: 16, waits: 16, missing: 16, promised: 12 })
const more = (list: keyof typeof shown) => (shown[list] = Math.min(MOST, shown[list] + MORE))
const { data, error, refetch } = useQuery({
  queryKey: ['day', who, shown],
  queryFn: async () =>
    take(await api.GET('/api/day', { params: { query: { for: who.value || undefined, ...shown } } })),
  refetchInterval: 15_000,
  enabled: () => !!person.value,
  placeholderData: keepPreviousData,
})
const people = computed(() => data.value?.people ?? [])
const overdue = (wait: Schemas['DayWait']) => !!wait.expected && !!data.value && wait.expected < data.value.today
const causes = {
  cure: t('day-cures'),
  order: t('common-on-order'),
  away: t('common-away'),
  hold: t('common-on-hold'),
  figure: t('common-missing-spec'),
  instrument: t('day-not-usable-now'),
} as const
const told = (wait: Schemas['DayWait']) =>
  wait.cause === 'cure' ? t('day-the-sealant-of', { what: wait.what }) : wait.what
const some = (names: string[]) =>
  names.length > 4
    ? t('day-names-and-more', { names: names.slice(0, 3).join(', '), count: names.length - 3 })
    : names.join(', ')
const at = (engine: Schemas['DayWork']) => engine.can.find((can) => can.at_it)?.at_it
</script>

<template>
  <main class="mx-auto w-full max-w-7xl px-4 py-6">
    <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
      <h1 class="text-4xl font-semibold tracking-tight">
        {{ t('common-day') }}<span v-if="data" class="ml-3 text-2xl font-normal text-dim">{{ near(data.today) }}</span>
      </h1>
      <ChoiceTabs
        v-if="people.length > 1"
        v-model="who"
        :options="[{ value: '', name: t('day-everybody') }, ...people.map((of) => ({ value: of.id, name: of.name }))]"
        :label="t('common-person')"
        test="for"
      />
    </div>
    <p v-if="error && !data" class="py-8" role="alert">{{ error.message }}</p>
    <LoadingText v-else-if="!data" />
    <div v-else class="mt-5 grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,1fr)_25rem]">
      <section aria-labelledby="can" data-test="can">
        <h2 id="can" class="text-2xl font-semibold">{{ t('common-can-be-done-now') }}</h2>
        <p v-if="!data.can.all" class="py-3 text-dim">
          {{ data.engines ? t('day-nothing-everything-is-waiting-or-is') : t('day-no-engines-in-the-shop') }}
        </p>
        <ul>
          <li
            v-for="engine in data.can.engines"
            :key="engine.id"
            class="border-b border-rule py-3"
            :data-test="`can-${engine.name}`"
          >
            <p class="flex flex-wrap items-baseline gap-x-3">
              <RouterLink
                :to="`/engines/${engine.id}`"
                class="text-xl font-semibold underline-offset-4 hover:underline"
                >{{ engine.name }}</RouterLink
              >
              <span v-if="engine.promised" :class="engine.late ? 'font-semibold text-wrong' : 'text-dim'">{{
                t('day-due', { promised: near(engine.promised) })
              }}</span>
              <span v-if="at(engine)" class="ml-auto text-dim">{{
                t('day-worked-on-it-last', { engine: at(engine) })
              }}</span>
            </p>
            <ul class="mt-1 flex flex-wrap gap-2">
              <li v-for="one in engine.can" :key="one.operation">
                <RouterLink
                  class="key min-h-11 py-1"
                  :class="one.status === 'held' && 'border-wrong text-wrong'"
                  :to="`/engines/${engine.id}/bench/${one.operation}`"
                >
                  <StateMark :status="one.status" />{{ one.name
                  }}<span v-if="one.lead" class="font-normal">{{ t('day-lead-approval-needed') }}</span>
                </RouterLink>
                <span v-if="one.now" class="mt-0.5 block max-w-md text-wrong">{{ say(one.now) }}</span>
                <span v-if="!one.by.length" class="mt-0.5 block max-w-md text-wrong"
                  ><span aria-hidden="true">▲ </span>{{ t('day-nobody-here-may-use-all-the') }}</span
                >
              </li>
            </ul>
          </li>
        </ul>
        <button v-if="data.can.engines.length < data.can.all && shown.can < MOST" class="key mt-3" @click="more('can')">
          {{ t('day-more-engines', { all: data.can.all - data.can.engines.length }) }}
        </button>
      </section>
      <div class="grid content-start gap-8">
        <section aria-labelledby="waits" data-test="waits">
          <h2 id="waits" class="text-2xl font-semibold">{{ t('common-waiting') }}</h2>
          <p v-if="!data.waits.all" class="text-dim">{{ t('day-nothing-is-waiting') }}</p>
          <ul>
            <li v-for="(wait, index) in data.waits.waits" :key="`${wait.id}${index}`" class="border-b border-rule py-2">
              <p class="flex justify-between gap-3">
                <span
                  ><span class="font-semibold">{{ told(wait) }}</span>
                  <span class="text-dim">{{ causes[wait.cause] }}</span></span
                >
                <span v-if="wait.until" class="whitespace-nowrap">{{
                  t('day-until', { until: until(wait.until) })
                }}</span>
                <span
                  v-else-if="wait.expected"
                  class="whitespace-nowrap"
                  :class="overdue(wait) && 'font-semibold text-wrong'"
                  ><span v-if="overdue(wait)" aria-hidden="true">▲ </span>{{ overdue(wait) ? t('day-was-due') : '' }}
                  {{ near(wait.expected) }}</span
                >
                <span
                  v-else-if="wait.cause !== 'figure' && wait.cause !== 'instrument'"
                  class="whitespace-nowrap text-dim"
                  >{{ t('day-no-date') }}</span
                >
              </p>
              <p class="text-dim">
                <RouterLink :to="`/engines/${wait.id}`" class="underline-offset-4 hover:underline">{{
                  wait.name
                }}</RouterLink>{{
                  wait.whole ? t('day-all-of-it') : wait.operations.length ? `: ${some(wait.operations)}` : ''
                }}
              </p>
            </li>
          </ul>
          <button
            v-if="data.waits.waits.length < data.waits.all && shown.waits < MOST"
            class="key mt-3"
            @click="more('waits')"
          >
            {{ t('day-more', { all: data.waits.all - data.waits.waits.length }) }}
          </button>
        </section>
        <section v-if="data.missing.all" aria-labelledby="order" data-test="order">
          <h2 id="order" class="text-2xl font-semibold">{{ t('day-to-order-or-look-up') }}</h2>
          <ul>
            <li v-for="engine in data.missing.engines" :key="engine.id" class="border-b border-rule py-2">
              <RouterLink :to="`/engines/${engine.id}`" class="font-semibold underline-offset-4 hover:underline">{{
                engine.name
              }}</RouterLink>
              <details v-if="engine.missing.length > 4" class="inline">
                <summary class="inline cursor-pointer text-dim">{{ some(engine.missing) }}</summary>
                {{ engine.missing.join(', ') }}
              </details>
              <span v-else class="text-dim">{{ engine.missing.join(', ') }}</span>
            </li>
          </ul>
          <button
            v-if="data.missing.engines.length < data.missing.all && shown.missing < MOST"
            class="key mt-3"
            @click="more('missing')"
          >
            {{ t('day-more-engines', { all: data.missing.all - data.missing.engines.length }) }}
          </button>
        </section>
        <DueInstruments />
      </div>
      <PromiseList
        class="lg:col-span-2"
        :promised="data.promised"
        :unpromised="data.unpromised"
        :today="data.today"
        :most="MOST"
        @more="more('promised')"
      />
      <footer class="no-print grid gap-3 border-t border-rule pt-3 lg:col-span-2">
        <p class="text-dim">
          {{
            t('day-on-engines', {
              count: people.length === 1 ? t('day-one-person-works') : t('day-people-work', { count: people.length }),
              hours: inHours(data.hours),
            })
          }}
        </p>
        <HoursForm v-if="isLead" :hours="data.hours" @kept="refetch()" />
        <CalendarFeed v-if="isLead" :feed="data.feed ?? null" @changed="refetch()" />
      </footer>
    </div>
  </main>
</template>
