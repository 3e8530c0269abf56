<script setup lang="ts">
// How many errors there are in a section of a plan.
import { t } from './texts'

defineProps<{ count: number | undefined }>()
</script>

<template>
  <span v-if="count" class="font-semibold text-wrong" data-test="section-errors">{{
    count === 1 ? t('plans-1-error') : t('plans-errors', { count })
  }}</span>
</template>
