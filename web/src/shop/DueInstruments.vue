<script setup lang="ts">
// Instruments whose calibration has run out, or soon does, at the end of the shop's page.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '../api/client'
import { calibration } from '../people/calibration'

const { data } = useQuery({ queryKey: ['instruments'], queryFn: async () => take(await api.GET('/api/instruments')), staleTime: 60_000 })
const due = computed(() => (data.value ?? []).filter((of) => of.active && of.due).sort((a, b) => a.days_left! - b.days_left!))
</script>

<template>
  <section v-if="due.length" class="mt-8" data-test="due">
    <h2 class="text-xl font-semibold">Calibration</h2>
    <ul>
      <li v-for="of in due" :key="of.id" class="border-b border-rule py-1" :class="of.due === 'over' && 'font-semibold text-wrong'">
        <span v-if="of.due === 'over'" aria-hidden="true">▲ </span><RouterLink :to="`/own/instruments/${of.id}`" class="underline underline-offset-4">{{ of.name }}</RouterLink>: {{ calibration(of) }}, {{ of.calibration_due }}
      </li>
    </ul>
  </section>
</template>
