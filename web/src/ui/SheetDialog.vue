<script setup lang="ts">
// Something that is asked above everything else. Its panel comes when one is opened first.
import { defineAsyncComponent } from 'vue'

const SheetPanel = defineAsyncComponent(() => import('./SheetPanel.vue'))
defineProps<{ open: boolean; title: string; wide?: boolean }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <!-- Mounted only while it is open: a closed one would still take the focus back to where it last was. -->
  <SheetPanel v-if="open" :title="title" :wide="wide" @close="emit('close')"><slot /></SheetPanel>
</template>
