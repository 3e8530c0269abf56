<script setup lang="ts">
// One joint of a plan on one page to print: its drawing, its procedure, and all that is known of its clamp load.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, Refused, take } from '../api/client'
import NothingHere from '../ui/NothingHere.vue'
import JointLoads from './JointLoads.vue'
import PartDrawing from './PartDrawing.vue'
import StageTable from './StageTable.vue'
import { usePageTitle } from '../ui/pageTitle'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

const route = useRoute()
const hash = computed(() => String(route.params.hash))
const { data: plan, error: away } = useQuery({
  queryKey: ['plan', hash],
  queryFn: async () => take(await api.GET('/api/plans/{hash}', { params: { path: { hash: hash.value } } })),
  retry: false,
})
const joint = computed(() => plan.value?.page.joints.find((of) => of.id === route.params.joint))
const print = () => window.print()
usePageTitle(() => joint.value && `${joint.value.name}, ${plan.value?.page.name}`)
</script>

<template>
  <NothingHere v-if="away instanceof Refused || (plan && !joint)" />
  <main v-else class="mx-auto w-full max-w-6xl px-4 py-6">
    <RouterLink class="way-back no-print hover:underline" :to="`/plans/${hash}`">{{
      plan?.page.name ?? t('common-plan')
    }}</RouterLink>
    <p v-if="away" class="font-semibold text-wrong" role="alert">{{ t('plans-no-connection') }}</p>
    <LoadingText v-else-if="!plan" />
    <template v-if="plan && joint">
      <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
        <div>
          <h1 class="text-4xl font-semibold tracking-tight">{{ joint.name }}</h1>
          <p class="text-lg text-dim">
            {{ t('plans-version', { page: plan.page.name, hash: hash.slice(0, 12) })
            }}<template v-if="joint.members.length > 1">{{
              t('plans-alike-2', { count: joint.members.length })
            }}</template>
          </p>
        </div>
        <button class="no-print key" @click="print">{{ t('common-print') }}</button>
      </div>
      <div class="mt-3 grid gap-x-8 gap-y-3 lg:grid-cols-[2fr_3fr] print:grid-cols-2 [&>*]:min-w-0">
        <PartDrawing :drawing="joint.drawing" :groups="joint.groups" :movable="false" :selected="[]" :grid="1" />
        <div>
          <p v-if="joint.procedure" class="text-xl">{{ joint.procedure }}</p>
          <p v-if="joint.source" class="text-dim">{{ t('plans-source', { source: joint.source }) }}</p>
          <StageTable class="mt-2" :stages="joint.stages" />
        </div>
      </div>
      <JointLoads :sheet="joint.sheet" heading="h2" />
      <p class="mt-4 text-dim">
        {{ t('plans-computed-figures-are-estimates-friction') }}
      </p>
    </template>
  </main>
</template>
