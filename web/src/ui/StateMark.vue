<script setup lang="ts">
// How something stands, by form as well as colour.
defineProps<{ status: string }>()
</script>

<template>
  <svg viewBox="0 0 24 24" class="inline-block size-6 shrink-0" aria-hidden="true">
    <template v-if="status === 'done' || status === 'finished'">
      <circle cx="12" cy="12" r="9" fill="none" stroke="currentColor" stroke-width="1.5" />
      <line x1="5" y1="19" x2="19" y2="5" stroke="var(--paint)" stroke-width="5" stroke-linecap="round" />
    </template>
    <template v-else-if="status === 'held'">
      <path d="M12 3 22 21H2z" fill="var(--wrong)" />
      <path d="M12 9v6m0 2v2" stroke="var(--on-wrong)" stroke-width="2.5" />
    </template>
    <template v-else-if="status === 'to-sign'">
      <circle cx="12" cy="12" r="9" fill="none" stroke="var(--layout)" stroke-width="2.5" />
      <path d="M7 15c2-6 3-6 4-2s2 3 6-2" fill="none" stroke="var(--layout)" stroke-width="2" />
    </template>
    <template v-else-if="status === 'in-work' || status === 'ready'">
      <circle cx="12" cy="12" r="9" fill="none" stroke="var(--layout)" stroke-width="2.5" />
      <circle v-if="status === 'in-work'" cx="12" cy="12" r="4.5" fill="var(--layout)" />
    </template>
    <circle v-else cx="12" cy="12" r="6" fill="none" stroke="var(--dim)" stroke-width="1.5" stroke-dasharray="3 3" />
  </svg>
</template>
