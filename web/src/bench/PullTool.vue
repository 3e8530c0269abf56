<script setup lang="ts">
// The tool of the pull in hand, and what stands against it.
import type { Schemas } from '../api/client'
import { sentence } from '../ui/units'

defineProps<{ tools: Schemas['ToolFit'][]; tool: Schemas['ToolFit'] | undefined }>()
/** The key of the tool that is used. */
const chosen = defineModel<string>({ required: true })
</script>

<template>
  <label class="-mt-1 flex items-center gap-2">
    <span class="label-text shrink-0">Tool</span>
    <select v-model="chosen" class="line-field min-w-0 grow" name="instrument">
      <option v-if="!tool" value="" disabled>Choose a tool</option>
      <option v-for="option in tools" :key="option.id" :value="option.id">{{ option.name }}{{ option.fault ? ' (does not fit)' : '' }}</option>
    </select>
  </label>
  <p v-if="!tool" class="font-semibold text-wrong" data-test="no-tool">
    ▲ No tool of the shop fits this. Choose the one you use anyway, or add one in the shop settings.
  </p>
  <p v-if="tool?.fault" class="font-semibold text-wrong" data-test="tool-fault">
    ▲ {{ sentence(tool.fault) }}: readings with it are recorded as deviations.
  </p>
</template>
