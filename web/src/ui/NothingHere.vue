<template>
  <main class="mx-auto max-w-2xl px-4 py-16">
    <h1 class="text-3xl font-semibold">Page not found</h1>
    <p class="mt-2 text-dim">There is no page at this address.</p>
    <RouterLink class="key mt-6" to="/">Engines</RouterLink>
  </main>
</template>
