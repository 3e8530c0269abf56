<script setup lang="ts">
// Calculators, friction and practice: what needs no engine.
const tools = [
  {
    to: '/calculate',
    name: 'Calculations',
    about: 'Threads, torque, stretch, clearances and more, with formula and source',
  },
  {
    to: '/clamp-load',
    name: 'Clamp load',
    about: 'One bolt tightened by torque, angle and stretch: how far the load scatters',
  },
  {
    to: '/friction',
    name: 'Friction',
    about: 'What your own bolts have shown, lubricants of the shop, friction tests',
  },
  { to: '/practice', name: 'Practice', about: 'Tighten a bolt of unknown friction to its stretch' },
]
</script>

<template>
  <main class="mx-auto w-full max-w-4xl px-4 py-6">
    <h1 class="border-b-2 border-ink pb-3 text-4xl font-semibold tracking-tight">Tools</h1>
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
