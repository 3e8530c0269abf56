<script setup lang="ts">
// Instruments whose calibration has run out, or soon does, and those that are away, at the end of the shop's page.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '../api/client'
import { near } from '../day/dates'
import { calibration } from '../people/calibration'
import { t } from './texts'

const { data } = useQuery({
  queryKey: ['instruments'],
  queryFn: async () => take(await api.GET('/api/instruments')),
  staleTime: 60_000,
})
const due = computed(() =>
  (data.value ?? []).filter((of) => of.active && of.due).sort((a, b) => a.days_left! - b.days_left!),
)
const away = computed(() => (data.value ?? []).filter((of) => of.active && of.away))
</script>

<template>
  <section v-if="due.length || away.length" class="mt-8" data-test="due">
    <h2 class="text-xl font-semibold">{{ t('common-instruments') }}</h2>
    <ul>
      <li
        v-for="of in due"
        :key="of.id"
        class="border-b border-rule py-1"
        :class="of.due === 'over' && 'font-semibold text-wrong'"
      >
        <span v-if="of.due === 'over'" aria-hidden="true">▲ </span
        ><RouterLink :to="`/own/instruments/${of.id}`" class="underline underline-offset-4">{{ of.name }}</RouterLink
        >: {{ calibration(of) }}, {{ of.calibration_due }}
      </li>
      <li v-for="of in away" :key="`away-${of.id}`" class="border-b border-rule py-1">
        <RouterLink :to="`/own/instruments/${of.id}`" class="underline underline-offset-4">{{ of.name }}</RouterLink>{{
          t('shop-away', {
            place: of.away!.place,
            until: of.away!.until ? t('shop-back', { until: near(of.away!.until) }) : '',
          })
        }}
      </li>
    </ul>
  </section>
</template>
