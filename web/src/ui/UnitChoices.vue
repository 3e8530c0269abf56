<script setup lang="ts">
// The units that figures are read in at this bench.
import { clearanceUnit, lengthUnit, torqueUnit } from './preferences'
import { unitsOf } from './units'
import { t } from './texts'

/** `spelled` shows what each is for also where there is little room. */
defineProps<{ spelled?: boolean }>()
const choices = [
  { label: t('common-torque'), name: 'torque-unit', dimension: 'torque', unit: torqueUnit },
  { label: t('ui-sizes'), name: 'length-unit', dimension: 'length', unit: lengthUnit },
  { label: t('common-clearances'), name: 'clearance-unit', dimension: 'clearance', unit: clearanceUnit },
] as const
</script>

<template>
  <label
    v-for="of in choices"
    :key="of.name"
    class="flex items-center gap-2"
    :class="spelled && 'justify-between'"
    :title="of.label"
  >
    <span class="label-text" :class="!spelled && 'max-2xl:sr-only'">{{ t('ui-in', { label: of.label }) }}</span>
    <select v-model="of.unit.value" class="line-field min-h-11 px-1" :name="of.name">
      <option v-for="u in unitsOf(of.dimension)" :key="u.symbol">{{ u.symbol }}</option>
    </select>
  </label>
</template>
