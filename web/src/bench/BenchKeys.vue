<script setup lang="ts">
// The keys that work at the bench.
import SheetDialog from '../ui/SheetDialog.vue'

defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const keys = [
  ['0 to 9, Enter', 'record a reading; a unit may follow the number'],
  [
    'Enter on its own',
    'the large button: it clicked, the mark is there, it holds; a foot pedal that types Enter will do',
  ],
  ['Esc', 'clear a reading that is not recorded yet'],
  ['Enter', 'confirm what is next, or sign'],
  ['W', 'simulate a pull'],
  ['Y', 'how this target was set'],
  ['V', 'void the last pull'],
  ['O', 'show the tightening sequence'],
  ['/', 'find an engine, a part, a plan, an instrument'],
  ['?', 'these keys'],
]
</script>

<template>
  <SheetDialog :open="open" title="Keys at the bench" @close="emit('close')">
    <dl class="mt-4 grid grid-cols-[6rem_1fr] gap-y-2">
      <template v-for="[key, does] in keys" :key="key">
        <dt class="font-semibold">{{ key }}</dt>
        <dd>{{ does }}</dd>
      </template>
    </dl>
    <button class="key mt-6" @click="emit('close')">Close</button>
  </SheetDialog>
</template>
