<script setup lang="ts">
// A version of a plan as it is read: the manual page a shop never had.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { v7 } from 'uuid'
import { api, Refused, take } from '../api/client'
import NothingHere from '../ui/NothingHere.vue'
import { when } from '../ui/units'
import DifferenceList from './DifferenceList.vue'
import FaultList from './FaultList.vue'
import PlanDocument from './PlanDocument.vue'
import { usePageTitle } from '../ui/pageTitle'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

const route = useRoute()
const router = useRouter()
const hash = computed(() => String(route.params.hash))
const { data: plan, error: away } = useQuery({
  queryKey: ['plan', hash],
  queryFn: async () => take(await api.GET('/api/plans/{hash}', { params: { path: { hash: hash.value } } })),
  retry: false,
})
const error = ref('')
const since = ref('')
watch(hash, () => (since.value = ''))
const { data: differences } = useQuery({
  queryKey: ['plan', hash, 'since', since],
  enabled: () => !!since.value,
  queryFn: async () =>
    take(
      await api.GET('/api/plans/{hash}/differences', {
        params: { path: { hash: hash.value }, query: { since: since.value } },
      }),
    ),
})
const newest = computed(() => plan.value?.versions[0]?.hash === hash.value)
async function change() {
  try {
    const draft = take(await api.POST('/api/drafts', { body: { id: v7(), base: hash.value } }))
    void router.push(`/plans/drafts/${draft.id}`)
  } catch (caught) {
    error.value = caught instanceof Refused ? caught.message : t('common-no-connection-try-again-in-a')
  }
}
const print = () => window.print()
usePageTitle(() => plan.value?.page.name)
</script>

<template>
  <NothingHere v-if="away instanceof Refused" />
  <main v-else class="mx-auto w-full max-w-6xl px-4 py-6">
    <RouterLink class="way-back no-print hover:underline" to="/plans">{{ t('common-plans') }}</RouterLink>
    <p v-if="away" class="font-semibold text-wrong" role="alert">{{ t('plans-no-connection') }}</p>
    <LoadingText v-else-if="!plan" />
    <template v-else>
      <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
        <div>
          <h1 class="text-4xl font-semibold tracking-tight">{{ plan.page.name }}</h1>
          <p class="text-lg">{{ plan.page.about }}</p>
        </div>
        <div class="no-print flex flex-wrap items-center gap-x-4 gap-y-2">
          <a
            class="quiet-key flex min-h-11 items-center"
            :href="`/api/plans/${hash}/text`"
            download
            data-test="text-file"
            >{{ t('plans-download') }}</a
          >
          <button class="quiet-key min-h-11" @click="print">{{ t('common-print') }}</button>
          <button class="key key-main" data-test="change-plan" @click="change">{{ t('plans-edit') }}</button>
        </div>
      </div>
      <div class="flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-rule py-2">
        <label class="flex items-baseline gap-2">
          <span class="label-text">{{ t('plans-version-2') }}</span>
          <select
            class="line-field min-h-11"
            :value="hash"
            name="version"
            @change="router.push(`/plans/${($event.target as HTMLSelectElement).value}`)"
          >
            <option v-for="of in plan.versions" :key="of.number" :value="of.hash">
              {{ of.number }}<template v-if="of.why">: {{ of.why }}</template>
            </option>
          </select>
        </label>
        <span class="text-dim"
          >{{ plan.version.by || t('plans-supplied-with-rigore') }}, {{ when(plan.version.at) }}</span
        >
        <span v-if="!newest" class="font-semibold">{{ t('plans-newer-version-available') }}</span>
        <span>{{
          plan.engines === 1 ? t('plans-1-engine-uses-it') : t('plans-engines-use-it', { engines: plan.engines })
        }}</span>
        <label v-if="plan.versions.length > 1" class="no-print flex items-baseline gap-2">
          <span class="label-text">{{ t('plans-changes-since') }}</span>
          <select v-model="since" class="line-field min-h-11" name="since">
            <option value="">–</option>
            <option v-for="of in plan.versions.filter((of) => of.hash !== hash)" :key="of.number" :value="of.hash">
              {{ t('plans-version-3', { number: of.number }) }}
            </option>
          </select>
        </label>
        <code class="text-dim" :title="hash">{{ hash.slice(0, 12) }}</code>
      </div>
      <DifferenceList v-if="since && differences" class="mt-3" :differences="differences" />
      <p v-if="error" class="mt-2 font-semibold text-wrong" role="alert">{{ error }}</p>
      <FaultList class="mt-3" :faults="plan.warnings" lines />
      <PlanDocument :plan="hash" class="mt-5" :page="plan.page" />
    </template>
  </main>
</template>
