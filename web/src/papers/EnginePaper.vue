<script setup lang="ts">
// The frame of a paper about one engine: the way back, the print button, the shop's letterhead and the engine.
import { useQuery } from '@tanstack/vue-query'
import { api, take, type Schemas } from '../api/client'
import PaperHead from './PaperHead.vue'
import { codeOf, usePaper } from './usePaper'
import { t } from './texts'

const props = defineProps<{ engine: Schemas['BuildView']; build: string; title: string }>()
const { data: shop } = useQuery({
  queryKey: ['letterhead'],
  queryFn: async () => take(await api.GET('/api/letterhead')),
})
usePaper(() => [props.engine.name, props.engine.identity].filter(Boolean).join(', '), props.title)
const print = () => window.print()
</script>

<template>
  <div class="no-print mb-4 flex flex-wrap items-center gap-3">
    <RouterLink :to="`/engines/${build}`" class="way-back mr-auto">{{ engine.name }}</RouterLink>
    <slot name="options" />
    <button class="key key-main" @click="print">{{ t('common-print') }}</button>
  </div>
  <article class="bg-face p-6 sm:p-10 print:p-0">
    <PaperHead v-if="shop" :shop="shop" :title="title" :code="codeOf(`/engines/${build}`)" />
    <h1 class="mt-4 text-4xl font-semibold tracking-tight">{{ engine.name }}</h1>
    <dl class="mt-2 grid grid-cols-[5.5rem_1fr] gap-y-0.5 sm:grid-cols-[8rem_1fr]">
      <template v-if="engine.identity">
        <dt class="text-dim">{{ t('common-engine-no') }}</dt>
        <dd>{{ engine.identity }}</dd>
      </template>
      <template v-if="engine.owner">
        <dt class="text-dim">{{ t('common-customer') }}</dt>
        <dd>{{ engine.owner }}</dd>
      </template>
      <dt class="text-dim">{{ t('common-plan') }}</dt>
      <dd>
        {{ engine.plan.name
        }}<template v-if="engine.use_for">{{ t('common-clearances-for', { use_for: engine.use_for }) }}</template>
      </dd>
      <slot name="facts" />
    </dl>
    <slot />
  </article>
</template>
