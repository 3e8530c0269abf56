<script setup lang="ts">
// Something that is asked above everything else. Its panel comes when one is opened first.
import { defineAsyncComponent, nextTick, onUnmounted, watch } from 'vue'
import { giveBack } from './focus'

const SheetPanel = defineAsyncComponent(() => import('./SheetPanel.vue'))
const props = defineProps<{ open: boolean; title: string; wide?: boolean }>()
const emit = defineEmits<{ close: [] }>()
/** What had the focus before. */
let before: Element | null = null
const close = () => void nextTick(() => giveBack(before))
watch(
  () => props.open,
  (open, was) => {
    if (open) before = document.activeElement
    else if (was) close()
  },
  { immediate: true },
)
onUnmounted(() => props.open && close())
</script>

<template>
  <!-- Mounted only while it is open: a closed one would still take the focus back to where it last was. -->
  <SheetPanel v-if="open" :title="title" :wide="wide" @close="emit('close')"><slot /></SheetPanel>
</template>
