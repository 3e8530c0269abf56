<script setup lang="ts">
// The units that figures are read in at this bench.
import { clearanceUnit, lengthUnit, torqueUnit } from './preferences'
import { unitsOf } from './units'

/** `spelled` shows what each is for also where there is little room. */
defineProps<{ spelled?: boolean }>()
const choices = [
  { label: 'Torque', name: 'torque-unit', dimension: 'torque', unit: torqueUnit },
  { label: 'Sizes', name: 'length-unit', dimension: 'length', unit: lengthUnit },
  { label: 'Clearances', name: 'clearance-unit', dimension: 'clearance', unit: clearanceUnit },
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
    <span class="label-text" :class="!spelled && 'max-2xl:sr-only'">{{ of.label }} in</span>
    <select v-model="of.unit.value" class="line-field min-h-11 px-1" :name="of.name">
      <option v-for="u in unitsOf(of.dimension)" :key="u.symbol">{{ u.symbol }}</option>
    </select>
  </label>
</template>
