<script setup lang="ts">
// The keys that work at the bench.
import { singleKeys, voice, type SingleKeys } from '../ui/preferences'
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
const kinds: Record<SingleKeys, string> = {
  shortcuts: 'Letters are shortcuts, as listed',
  'large-button': 'Any key or pedal is the large button',
  off: 'Only figures, Enter and Esc',
}
</script>

<template>
  <SheetDialog :open="open" title="Keys at the bench" @close="emit('close')">
    <dl class="mt-4 grid grid-cols-[6rem_1fr] gap-y-2">
      <template v-for="[key, does] in keys" :key="key">
        <dt class="font-semibold">{{ key }}</dt>
        <dd>{{ does }}</dd>
      </template>
    </dl>
    <fieldset class="mt-6">
      <legend class="text-xl font-semibold">Single keys</legend>
      <label v-for="(words, kind) in kinds" :key="kind" class="flex min-h-11 items-center gap-3"
        ><input v-model="singleKeys" type="radio" name="single-keys" class="size-5 accent-(--layout)" :value="kind" />
        {{ words }}</label
      >
    </fieldset>
    <label class="mt-4 flex min-h-11 items-center gap-3"
      ><input v-model="voice" type="checkbox" name="voice" class="size-5 accent-(--layout)" />
      <span><b>Voice</b>: say the next bolt, its figure and the verdict aloud</span></label
    >
    <button class="key mt-6" @click="emit('close')">Close</button>
  </SheetDialog>
</template>
