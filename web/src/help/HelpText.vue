<script setup lang="ts">
// One help page: what a place is for, and how it is used.
import type { HelpPage } from './pages'

defineProps<{ page: HelpPage }>()
</script>

<template>
  <p class="mt-2 text-lg">{{ page.about }}</p>
  <ul class="mt-2 list-disc pl-5">
    <li v-for="point in page.points" :key="point" class="py-1">{{ point }}</li>
  </ul>
</template>
