<script setup lang="ts">
// The keys that work at the bench.
import { singleKeys, voice, type SingleKeys } from '../ui/preferences'
import SheetDialog from '../ui/SheetDialog.vue'
import { t } from './texts'

defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const keys = [
  [t('bench-0-to-9-enter'), t('bench-record-a-reading-a-unit-may')],
  [t('bench-enter-on-its-own'), t('bench-the-large-button-it-clicked-the')],
  [t('bench-esc'), t('bench-clear-a-reading-that-is-not')],
  [t('bench-enter'), t('bench-confirm-what-is-next-or-sign')],
  ['W', t('bench-simulate-a-pull')],
  ['Y', t('bench-how-this-target-was-set')],
  ['V', t('bench-void-the-last-pull')],
  ['O', t('bench-show-the-tightening-sequence')],
  ['/', t('bench-find-an-engine-a-part-a')],
  ['?', t('bench-these-keys')],
]
const kinds: Record<SingleKeys, string> = {
  shortcuts: t('bench-letters-are-shortcuts-as-listed'),
  'large-button': t('bench-any-key-or-pedal-is-the'),
  off: t('bench-only-figures-enter-and-esc'),
}
</script>

<template>
  <SheetDialog :open="open" :title="t('bench-keys-at-the-bench')" @close="emit('close')">
    <dl class="mt-4 grid grid-cols-[6rem_1fr] gap-y-2">
      <template v-for="[key, does] in keys" :key="key">
        <dt class="font-semibold">{{ key }}</dt>
        <dd>{{ does }}</dd>
      </template>
    </dl>
    <fieldset class="mt-6">
      <legend class="text-xl font-semibold">{{ t('bench-single-keys') }}</legend>
      <label v-for="(words, kind) in kinds" :key="kind" class="flex min-h-11 items-center gap-3"
        ><input v-model="singleKeys" type="radio" name="single-keys" class="size-5 accent-(--layout)" :value="kind" />
        {{ words }}</label
      >
    </fieldset>
    <label class="mt-4 flex min-h-11 items-center gap-3"
      ><input v-model="voice" type="checkbox" name="voice" class="size-5 accent-(--layout)" />
      <span
        ><b>{{ t('bench-voice') }}</b
        >{{ t('bench-say-the-next-bolt-its-figure') }}</span
      ></label
    >
    <button class="key mt-6" @click="emit('close')">{{ t('common-close') }}</button>
  </SheetDialog>
</template>
