<script setup lang="ts">
// What may be wider than a phone: it is scrolled by hand and by the arrow keys.
defineProps<{ label: string }>()
</script>

<template>
  <div class="relative overflow-x-auto print:overflow-visible" role="group" tabindex="0" :aria-label="label">
    <slot />
  </div>
</template>
