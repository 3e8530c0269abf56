<script setup lang="ts">
// The one operation in hand: its frame, and the bench of its kind of work.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useLive } from '../api/live'
import { useBench } from '../api/queries'
import OperationFrame from './OperationFrame.vue'
import LoadError from '../ui/LoadError.vue'
import { usePageTitle } from '../ui/pageTitle'
import LoadingText from '../ui/LoadingText.vue'

const route = useRoute()
const build = computed(() => String(route.params.build))
const operation = computed(() => String(route.params.operation))
const { data: bench, error, refresh, show } = useBench(build, operation)
const { live } = useLive(build)
/** What is on the screen belongs to this operation: another one starts with nothing of it. */
const shown = computed(() => (bench.value?.operation.id === operation.value ? bench.value : null))
usePageTitle(() => (shown.value ? `${shown.value.operation.name}, ${shown.value.build}` : undefined))
</script>

<template>
  <main class="mx-auto flex w-full max-w-[100rem] flex-col px-4 pt-2 pb-4">
    <LoadError v-if="error && !shown" :error="error" :build="build" />
    <LoadingText v-else-if="!shown" />
    <OperationFrame
      v-if="shown"
      :key="`${build}/${operation}`"
      :build="build"
      :bench="shown"
      :live="live?.operation === operation ? live : null"
      :looks="{ refresh, show }"
    />
  </main>
</template>
