<script setup lang="ts">
// One engine in the list: how it stands, what can be done on it now.
import type { Schemas } from '../api/client'
import StateMark from '../ui/StateMark.vue'
import { say } from '../ui/units'
import { t } from './texts'

defineProps<{ build: Schemas['ShopBuild'] }>()
const words = {
  'taken-in': t('common-taken-in'),
  'in-work': t('common-in-work'),
  held: t('common-blocked'),
  finished: t('shop-finished'),
} as const
/** Specs that are wanted besides the one that the line above names. */
const wanted = ({ wanted, wanted_besides }: Schemas['ShopBuild']) =>
  t(wanted === wanted_besides ? 'shop-specs-missing' : 'shop-more-specs-missing', { count: wanted_besides })
</script>

<template>
  <li
    :class="[
      'grid grid-cols-[auto_1fr] items-center gap-x-4',
      'gap-y-3 border-b border-rule py-5 md:grid-cols-[2rem_1fr_1.4fr_12rem]',
    ]"
    :data-test="build.name"
  >
    <StateMark :status="build.status" class="size-8" />
    <div>
      <RouterLink :to="`/engines/${build.id}`" class="text-2xl font-semibold underline-offset-4 hover:underline">{{
        build.name
      }}</RouterLink>
      <div v-if="build.broken" class="font-semibold text-wrong">
        {{ t('shop-record-damaged-nothing-can-be-recorded') }}
      </div>
      <div :class="build.status === 'held' ? 'font-semibold text-wrong' : 'text-dim'">
        {{ t('shop-of-signed', { words: words[build.status], signed: build.signed, operations: build.operations }) }}
      </div>
    </div>
    <div class="col-span-2 md:col-span-1">
      <div class="font-semibold">
        {{ build.operation_name ?? (build.status === 'finished' ? t('shop-build-sheet-ready') : t('common-waiting')) }}
      </div>
      <div :class="build.status === 'held' ? 'text-wrong' : 'text-dim'">{{ say(build.now) }}</div>
      <div v-if="build.wanted_besides" class="text-dim">{{ wanted(build) }}</div>
      <div class="progress-line" :style="{ '--of': build.operations, '--done': build.signed }" aria-hidden="true" />
    </div>
    <RouterLink
      v-if="build.operation"
      class="key key-main col-span-2 md:col-span-1"
      :to="`/engines/${build.id}/bench/${build.operation}`"
    >
      {{ t('common-continue-work') }}
    </RouterLink>
    <RouterLink
      v-else-if="build.status !== 'finished'"
      class="key col-span-2 md:col-span-1"
      :to="`/engines/${build.id}`"
      >{{ t('common-open-engine') }}</RouterLink
    >
    <RouterLink v-else class="key col-span-2 md:col-span-1" :to="`/engines/${build.id}/sheet`">{{
      t('common-build-sheet')
    }}</RouterLink>
  </li>
</template>
