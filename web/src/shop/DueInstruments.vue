<script setup lang="ts">
// Instruments whose calibration has run out, or soon does, at the end of the shop's page.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '../api/client'

const SOON = 30
const { data } = useQuery({ queryKey: ['instruments'], queryFn: async () => take(await api.GET('/api/instruments')), staleTime: 60_000 })
const due = computed(() => (data.value ?? []).filter((of) => of.active && of.days_left !== null && of.days_left !== undefined && of.days_left <= SOON).sort((a, b) => a.days_left! - b.days_left!))
const words = (days: number) => (days < 0 ? `ran out ${days === -1 ? 'yesterday' : `${-days} days ago`}` : days === 0 ? 'runs out today' : `runs out in ${days === 1 ? 'a day' : `${days} days`}`)
</script>

<template>
  <section v-if="due.length" class="mt-8" data-test="due">
    <h2 class="text-xl font-semibold">Calibration</h2>
    <ul>
      <li v-for="of in due" :key="of.id" class="border-b border-rule py-1" :class="of.days_left! < 0 && 'font-semibold text-wrong'">
        <span v-if="of.days_left! < 0" aria-hidden="true">▲ </span><RouterLink to="/own" class="underline underline-offset-4">{{ of.name }}</RouterLink>: {{ words(of.days_left!) }}, {{ of.calibration_due }}
      </li>
    </ul>
  </section>
</template>
