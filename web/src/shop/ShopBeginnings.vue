<script setup lang="ts">
// Getting started, with what is there already: for a lead whose shop has no engine yet.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '../api/client'
import { usePlans } from '../api/queries'

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
    name: 'People',
    words: 'each with a name and password, and a PIN for the bench',
  },
  {
    key: 'instruments',
    done: !!instruments.value?.length,
    to: '/own',
    name: 'Wrenches and gauges',
    words: 'with range, accuracy and calibration date',
  },
  {
    key: 'plans',
    done: !!plans.value?.length,
    to: '/plans',
    name: 'Engine plan',
    words: 'from a layout, a file, or an example',
  },
])
</script>

<template>
  <section class="max-w-2xl py-6" data-test="beginnings">
    <h2 class="text-2xl font-semibold">Getting started</h2>
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
          ><span class="sr-only">{{ step.done ? ', done' : ', to do' }}</span
          ><span class="block text-dim">{{ step.words }}</span></span
        >
      </li>
    </ol>
    <p class="mt-4">Then add an engine.</p>
  </section>
</template>
