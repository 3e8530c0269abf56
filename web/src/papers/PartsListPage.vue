<script setup lang="ts">
// Every part of an engine with batch, serial and condition, and its hardware: a paper for the customer or the shelf.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useBuild, useSheet } from '../api/queries'
import CountSheet from '../sheet/CountSheet.vue'
import PartSheet from '../sheet/PartSheet.vue'
import LoadError from '../ui/LoadError.vue'
import { usePageTitle } from '../ui/pageTitle'
import EnginePaper from './EnginePaper.vue'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

const build = computed(() => String(useRoute().params.build))
const { data: engine, error } = useBuild(build)
const { data: sheet } = useSheet(build)
usePageTitle(() => engine.value && t('papers-parts-list', { engine: engine.value.name }))
const counts = computed(
  () =>
    sheet.value?.sections.flatMap((section) =>
      section.work === 'count' ? section.counts.filter((line) => !line.back) : [],
    ) ?? [],
)
const lubricants = computed(() => [
  ...new Set(
    sheet.value?.sections.flatMap((section) =>
      section.work === 'tighten' ? section.joints.flatMap((joint) => joint.lubricants) : [],
    ),
  ),
])
</script>

<template>
  <main class="mx-auto w-full max-w-4xl px-4 py-6 print:max-w-none print:p-0">
    <LoadError v-if="error && !engine" :error="error" :build="build" />
    <LoadingText v-else-if="!engine || !sheet" />
    <EnginePaper v-else :engine="engine" :build="build" :title="t('common-parts-list')">
      <h2 class="mt-5 text-xl font-semibold">{{ t('common-parts') }}</h2>
      <PartSheet v-if="engine.parts.length" :parts="engine.parts" />
      <p v-else>{{ t('papers-the-plan-lists-no-parts') }}</p>
      <template v-if="counts.length">
        <h2 class="mt-5 border-b border-ink text-xl font-semibold">{{ t('common-hardware') }}</h2>
        <CountSheet :counts="counts" />
      </template>
      <template v-if="lubricants.length">
        <h2 class="mt-5 border-b border-ink text-xl font-semibold">{{ t('papers-lubricants') }}</h2>
        <ul>
          <li v-for="line in lubricants" :key="line">{{ line }}</li>
        </ul>
      </template>
    </EnginePaper>
  </main>
</template>
