<script setup lang="ts">
// A form that is too long for its dialog: what is entered scrolls, what is done with it stands below.
defineProps<{ message?: string }>()
defineEmits<{ submit: [] }>()
</script>

<template>
  <form class="mt-3 flex max-h-[78dvh] flex-col" @submit.prevent="$emit('submit')">
    <div class="-mx-2 grid min-h-0 gap-3 overflow-y-auto px-2 pt-1 pb-3"><slot /></div>
    <div class="flex flex-wrap justify-end gap-3 border-t border-rule pt-2">
      <p v-if="message" class="said-wrong w-full" role="alert">{{ message }}</p>
      <slot name="actions" />
    </div>
  </form>
</template>
