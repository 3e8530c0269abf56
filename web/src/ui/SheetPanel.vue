<script setup lang="ts">
// A dialog that is open: it holds the focus, and Escape closes it.
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'

defineProps<{ title: string; wide?: boolean }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <Dialog :open="true" class="relative z-20" @close="emit('close')">
    <div class="fixed inset-0 bg-[rgb(0_0_0/0.45)]" aria-hidden="true" />
    <div class="fixed inset-0 flex items-end justify-center overflow-y-auto sm:items-center sm:p-6">
      <DialogPanel class="w-full border-t-4 border-layout bg-face p-6" :class="wide ? 'max-w-4xl' : 'max-w-xl'">
        <DialogTitle class="text-2xl font-semibold">{{ title }}</DialogTitle>
        <slot />
      </DialogPanel>
    </div>
  </Dialog>
</template>
