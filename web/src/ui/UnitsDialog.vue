<script setup lang="ts">
// Units, where the head of the page has no room for them.
import SheetDialog from './SheetDialog.vue'
import UnitChoices from './UnitChoices.vue'

const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <SheetDialog open title="Units" @close="emit('close')">
    <div class="mt-3 grid gap-3"><UnitChoices spelled /></div>
    <div class="mt-6 flex justify-end"><button class="key key-main" @click="emit('close')">Close</button></div>
  </SheetDialog>
</template>
