<script setup lang="ts">
// What was wrong with what somebody did: said at once, and read out.
defineProps<{ text: string | undefined }>()
</script>

<template>
  <p v-if="text" role="alert" class="font-semibold text-wrong">{{ text }}</p>
</template>
