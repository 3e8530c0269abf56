<script setup lang="ts">
// Help on every place, one below the other.
import HelpText from './HelpText.vue'
import { helpPages } from './pages'
import { t } from './texts'
</script>

<template>
  <main class="mx-auto w-full max-w-3xl px-4 py-6">
    <h1 class="border-b-2 border-ink pb-3 text-4xl font-semibold tracking-tight">{{ t('common-help') }}</h1>
    <p class="mt-3">
      {{ t('help-f1-opens-the-help-of-the') }}
      <RouterLink class="underline" to="/about">{{ t('common-about-rigore') }}</RouterLink>
    </p>
    <section v-for="(page, key) in helpPages" :id="key" :key="key" class="mt-6">
      <h2 class="border-b border-ink text-2xl font-semibold">{{ page.title }}</h2>
      <HelpText :page="page" />
    </section>
  </main>
</template>
