<script setup lang="ts">
// Units, sound and theme, where the head of the page has no room for them.
import { sound, theme, type Theme } from './preferences'
import LanguageChoice from './LanguageChoice.vue'
import SheetDialog from './SheetDialog.vue'
import UnitChoices from './UnitChoices.vue'
import { t } from './texts'

const emit = defineEmits<{ close: [] }>()
const themes: Record<Theme, string> = { auto: t('ui-as-the-device'), light: t('ui-light'), dark: t('ui-dark') }
</script>

<template>
  <SheetDialog open :title="t('ui-units-and-display')" @close="emit('close')">
    <div class="mt-3 grid gap-3">
      <UnitChoices spelled />
      <LanguageChoice />
      <label
        ><span class="label-text">{{ t('ui-theme') }}</span
        ><select v-model="theme" class="field mt-1" name="theme">
          <option v-for="(words, key) in themes" :key="key" :value="key">{{ words }}</option>
        </select></label
      >
      <label class="flex min-h-11 items-center gap-3"
        ><input v-model="sound" type="checkbox" class="size-5 accent-(--layout)" name="sound" />
        {{ t('ui-sound-of-each-verdict') }}</label
      >
    </div>
    <div class="mt-6 flex justify-end">
      <button class="key key-main" @click="emit('close')">{{ t('common-close') }}</button>
    </div>
  </SheetDialog>
</template>
