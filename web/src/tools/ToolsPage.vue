<script setup lang="ts">
// Calculators, friction and practice: what needs no engine.

import { t } from './texts'
const tools = [
  {
    to: '/calculate',
    name: t('common-calculations'),
    about: t('tools-threads-torque-stretch-clearances-and-more'),
  },
  {
    to: '/clamp-load',
    name: t('common-clamp-load'),
    about: t('tools-one-bolt-tightened-by-torque-angle'),
  },
  {
    to: '/friction',
    name: t('common-friction'),
    about: t('tools-what-your-own-bolts-have-shown'),
  },
  { to: '/practice', name: t('common-practice'), about: t('tools-tighten-a-bolt-of-unknown-friction') },
]
</script>

<template>
  <main class="mx-auto w-full max-w-4xl px-4 py-6">
    <h1 class="border-b-2 border-ink pb-3 text-4xl font-semibold tracking-tight">{{ t('common-tools') }}</h1>
    <ul>
      <li v-for="tool in tools" :key="tool.to" class="border-b border-rule">
        <RouterLink :to="tool.to" class="flex min-h-16 flex-wrap items-baseline gap-x-4 py-4">
          <span class="w-44 text-2xl font-semibold underline underline-offset-4">{{ tool.name }}</span>
          <span class="text-dim">{{ tool.about }}</span>
        </RouterLink>
      </li>
    </ul>
  </main>
</template>
