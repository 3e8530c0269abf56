<script setup lang="ts">
// What says on every page of a dry run that nothing is recorded, and leads back to its plan.
import { useQuery } from '@tanstack/vue-query'
import { api, take } from '../api/client'
import { t } from './texts'

const props = defineProps<{ build: string }>()
const { data: run } = useQuery({
  queryKey: ['dry-run', () => props.build],
  staleTime: Infinity,
  retry: false,
  queryFn: async () => take(await api.GET('/api/dry-runs/{build}', { params: { path: { build: props.build } } })),
})
</script>

<template>
  <p
    v-if="run"
    class="no-print flex flex-wrap items-center gap-x-4 border-b-2 border-dashed border-layout px-4"
    data-test="dry-run"
    role="status"
  >
    <b class="py-2">{{ t('engine-dry-run-nothing-is-recorded') }}</b>
    <RouterLink class="key my-1 ml-auto" :to="`/plans/drafts/${run.draft}`" data-test="end-dry-run">{{
      t('engine-back-to-the-plan')
    }}</RouterLink>
  </p>
</template>
