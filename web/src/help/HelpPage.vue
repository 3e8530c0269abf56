<script setup lang="ts">
// Help on every place, one below the other.
import HelpText from './HelpText.vue'
import { helpPages } from './pages'
</script>

<template>
  <main class="mx-auto w-full max-w-3xl px-4 py-6">
    <h1 class="border-b-2 border-ink pb-3 text-4xl font-semibold tracking-tight">Help</h1>
    <p class="mt-3">
      F1 opens the help of the place you are at. <RouterLink class="underline" to="/about">About Rigore</RouterLink>
    </p>
    <section v-for="(page, key) in helpPages" :id="key" :key="key" class="mt-6">
      <h2 class="border-b border-ink text-2xl font-semibold">{{ page.title }}</h2>
      <HelpText :page="page" />
    </section>
  </main>
</template>
