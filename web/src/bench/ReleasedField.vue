<script setup lang="ts">
// How far a tight fastener is stretched: the gauge is zeroed on it, it is loosened, and read.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { gauges } from '../ui/preferences'
import { unitOf } from '../ui/units'

const props = defineProps<{ tools: Schemas['ToolFit'][] }>()
const released = defineModel<string>({ required: true })
/** The gauge on the bolt is the one its stretch is read with. */
const STRETCH = 'stretch'
const fitting = computed(() => props.tools.filter((tool) => tool.suits))
const gauge = computed(() => fitting.value.find((tool) => tool.id === gauges.value[STRETCH]) ?? fitting.value[0])
/** What of the command says so; nothing where nothing was read. */
const measured = computed(() => (released.value.trim() ? { released: released.value, unit: unitOf('clearance'), instrument: gauge.value?.id } : {}))
const emit = defineEmits<{ measured: [of: { released?: string; unit?: string; instrument?: string }] }>()
</script>

<template>
  <fieldset class="mt-4 grid gap-2 border-t border-rule pt-3">
    <legend class="label-text pr-2">How far is it stretched? Zero the gauge on the tight bolt, loosen it, read</legend>
    <input
      v-model="released"
      name="released"
      class="field"
      inputmode="decimal"
      autocomplete="off"
      aria-label="How much shorter it got"
      :placeholder="`How much shorter it got, ${unitOf('clearance')}; empty if not measured`"
      @input="$nextTick(() => emit('measured', measured))"
    />
    <label v-if="gauge" class="flex items-center gap-2">
      <span class="label-text shrink-0">Tool</span>
      <select class="line-field grow" name="released-gauge" :value="gauge.id" @change="(gauges = { ...gauges, [STRETCH]: ($event.target as HTMLSelectElement).value }), emit('measured', measured)">
        <option v-for="tool in fitting" :key="tool.id" :value="tool.id">{{ tool.name }}{{ tool.fault ? ' (does not fit)' : '' }}</option>
      </select>
    </label>
  </fieldset>
</template>
