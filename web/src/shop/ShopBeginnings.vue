<script setup lang="ts">
// What makes a shop, with what is there already: for a lead whose shop has no engine yet.
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
    name: 'Who works here',
    words: 'each with a name and a password of their own, and a PIN for the bench',
  },
  {
    key: 'instruments',
    done: !!instruments.value?.length,
    to: '/own',
    name: 'Wrenches and gauges',
    words: 'with their range, and until when they are calibrated',
  },
  {
    key: 'plans',
    done: !!plans.value?.length,
    to: '/plans',
    name: 'A plan of an engine',
    words: 'from its shape, from a file, or one of the examples',
  },
])
</script>

<template>
  <section class="max-w-2xl py-6" data-test="beginnings">
    <h2 class="text-2xl font-semibold">What makes a shop</h2>
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
          ><span class="sr-only">{{ step.done ? ', there' : ', not there yet' }}</span
          ><span class="block text-dim">{{ step.words }}</span></span
        >
      </li>
    </ol>
    <p class="mt-4">Then take an engine in.</p>
  </section>
</template>
