<script setup lang="ts">
// Units, sound and theme, where the head of the page has no room for them.
import { sound, theme, type Theme } from './preferences'
import SheetDialog from './SheetDialog.vue'
import UnitChoices from './UnitChoices.vue'

const emit = defineEmits<{ close: [] }>()
const themes: Record<Theme, string> = { auto: 'As the device', light: 'Light', dark: 'Dark' }
</script>

<template>
  <SheetDialog open title="Units and display" @close="emit('close')">
    <div class="mt-3 grid gap-3">
      <UnitChoices spelled />
      <label
        ><span class="label-text">Theme</span
        ><select v-model="theme" class="field mt-1" name="theme">
          <option v-for="(words, key) in themes" :key="key" :value="key">{{ words }}</option>
        </select></label
      >
      <label class="flex min-h-11 items-center gap-3"
        ><input v-model="sound" type="checkbox" class="size-5 accent-(--layout)" name="sound" /> Sound of each
        verdict</label
      >
    </div>
    <div class="mt-6 flex justify-end"><button class="key key-main" @click="emit('close')">Close</button></div>
  </SheetDialog>
</template>
