<template>
  <main class="mx-auto max-w-2xl px-4 py-16">
    <h1 class="text-3xl font-semibold">Nothing here</h1>
    <p class="mt-2 text-dim">This address leads to no engine and no place in the shop.</p>
    <RouterLink class="key mt-6" to="/">To the shop</RouterLink>
  </main>
</template>
