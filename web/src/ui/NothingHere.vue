<script setup lang="ts">
import { t } from './texts'
</script>

<template>
  <main class="mx-auto max-w-2xl px-4 py-16">
    <h1 class="text-3xl font-semibold">{{ t('common-page-not-found') }}</h1>
    <p class="mt-2 text-dim">{{ t('ui-there-is-no-page-at-this') }}</p>
    <RouterLink class="key mt-6" to="/">{{ t('common-engines') }}</RouterLink>
  </main>
</template>
