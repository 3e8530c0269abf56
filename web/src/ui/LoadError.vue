<script setup lang="ts">
// A page of an engine that cannot be shown: why, and what can be done. A broken record says so, and leaves as one.
import { computed } from 'vue'
import { Refused } from '../api/client'
import { t } from './texts'

const props = defineProps<{ error: Error; build: string }>()
const broken = computed(() => props.error instanceof Refused && props.error.is('broken-record'))
</script>

<template>
  <div v-if="broken" role="alert" class="my-8 grid max-w-3xl gap-3 border-4 border-wrong p-4" data-test="broken-record">
    <h1 class="text-3xl font-semibold text-wrong">{{ t('ui-record-damaged') }}</h1>
    <p class="text-lg">{{ error.message }}.</p>
    <p>
      <a
        class="key inline-flex min-h-11 items-center"
        :href="`/api/builds/${build}/archive?broken=true`"
        data-test="broken-archive"
        >{{ t('ui-export-damaged-record') }}</a
      >
    </p>
  </div>
  <div v-else class="grid justify-items-start gap-3 py-8">
    <p class="text-lg">{{ error.message }}.</p>
    <RouterLink class="key inline-flex min-h-11 items-center" to="/">{{ t('common-engines') }}</RouterLink>
  </div>
</template>
