<script setup lang="ts">
// How far a tight fastener is stretched: the gauge is zeroed on it, it is loosened, and read.
import type { Schemas } from '../api/client'
import { unitOf } from '../ui/units'
import GaugeSelect from './GaugeSelect.vue'
import { t } from './texts'

defineProps<{ tools: Schemas['ToolFit'][] }>()
/** How much shorter it got, as it is typed; empty where it was not measured. */
const released = defineModel<string>({ required: true })
</script>

<template>
  <fieldset class="mt-4 grid gap-2 border-t border-rule pt-3">
    <legend class="label-text pr-2">{{ t('bench-read-stretch-zero-the-gauge-on') }}</legend>
    <input
      v-model="released"
      name="released"
      class="field"
      inputmode="decimal"
      autocomplete="off"
      :aria-label="t('bench-shortening')"
      :placeholder="t('bench-shortening-empty-if-not-measured', { unit: unitOf('clearance') })"
    />
    <GaugeSelect :tools="tools" />
  </fieldset>
</template>
