<script setup lang="ts">
// Several of a list: what is chosen stands in its order, and the rest is chosen from.
import { computed } from 'vue'
import type { Reference } from './references'
import { t } from '../texts'

const props = defineProps<{ label: string; hint: string; known: Reference[]; path: string }>()
const value = defineModel<unknown>({ required: true })
const chosen = computed(() => (Array.isArray(value.value) ? value.value : value.value ? [value.value] : []).map(String))
const nameOf = (id: string) => props.known.find((row) => row.id === id)?.name ?? id
const rest = computed(() => props.known.filter((row) => !chosen.value.includes(row.id)))
const put = (all: string[]) => (value.value = all.length ? all : undefined)
function add(event: Event) {
  const select = event.target as HTMLSelectElement
  if (select.value) put([...chosen.value, select.value])
  select.value = ''
}
</script>

<template>
  <fieldset class="min-w-0">
    <legend class="label-text">{{ label }}</legend>
    <ul v-if="chosen.length" class="flex flex-wrap gap-x-4">
      <li v-for="id in chosen" :key="id" class="flex items-center gap-2">
        <span class="font-semibold">{{ nameOf(id) }}</span>
        <button
          type="button"
          class="quiet-key min-h-11"
          :aria-label="t('plans-remove-2', { written: nameOf(id) })"
          @click="put(chosen.filter((of) => of !== id))"
        >
          {{ t('common-remove') }}
        </button>
      </li>
    </ul>
    <select class="field mt-1" :name="path" :aria-label="label" :disabled="!rest.length" @change="add">
      <option value="">{{ rest.length ? t('plans-add-2') : t('plans-nothing-more') }}</option>
      <option v-for="row in rest" :key="row.id" :value="row.id">{{ row.name }}</option>
    </select>
    <p v-if="hint" class="text-dim">{{ hint }}</p>
  </fieldset>
</template>
