<script setup lang="ts">
// Getting started, with what is there already: for a lead whose shop has no engine yet.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '../api/client'
import { usePlans } from '../api/queries'
import { t } from './texts'

const { data: people } = useQuery({ queryKey: ['people'], queryFn: async () => take(await api.GET('/api/people')) })
const { data: instruments } = useQuery({
  queryKey: ['instruments'],
  queryFn: async () => take(await api.GET('/api/instruments')),
})
const { data: plans } = usePlans()
const steps = computed(() => [
  {
    key: 'people',
    done: (people.value?.length ?? 0) > 1,
    to: '/own',
    name: t('common-people'),
    words: t('shop-each-with-a-name-and-password'),
  },
  {
    key: 'instruments',
    done: !!instruments.value?.length,
    to: '/own',
    name: t('shop-wrenches-and-gauges'),
    words: t('shop-with-range-accuracy-and-calibration-date'),
  },
  {
    key: 'plans',
    done: !!plans.value?.length,
    to: '/plans',
    name: t('shop-engine-plan'),
    words: t('shop-from-a-layout-a-file-or'),
  },
])
</script>

<template>
  <section class="max-w-2xl py-6" data-test="beginnings">
    <h2 class="text-2xl font-semibold">{{ t('shop-getting-started') }}</h2>
    <ol>
      <li
        v-for="step in steps"
        :key="step.key"
        class="flex items-baseline gap-4 border-b border-rule py-2"
        :data-test="`beginning-${step.key}`"
        :data-done="step.done"
      >
        <span class="w-8 shrink-0 text-2xl font-semibold" aria-hidden="true">{{ step.done ? '✓' : '–' }}</span>
        <span
          ><RouterLink :to="step.to" class="text-xl font-semibold underline underline-offset-4">{{
            step.name
          }}</RouterLink
          ><span class="sr-only">{{ step.done ? t('shop-done') : t('shop-to-do') }}</span
          ><span class="block text-dim">{{ step.words }}</span></span
        >
      </li>
    </ol>
    <p class="mt-4">{{ t('shop-then-add-an-engine') }}</p>
  </section>
</template>
