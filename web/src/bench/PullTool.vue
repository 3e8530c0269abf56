<script setup lang="ts">
// The tool of the pull in hand, and what stands against it.
import type { Schemas } from '../api/client'
import { sentence } from '../ui/units'
import { t } from './texts'

defineProps<{ tools: Schemas['ToolFit'][]; tool: Schemas['ToolFit'] | undefined }>()
/** The key of the tool that is used. */
const chosen = defineModel<string>({ required: true })
</script>

<template>
  <label class="-mt-1 flex items-center gap-2">
    <span class="label-text shrink-0">{{ t('bench-tool') }}</span>
    <select v-model="chosen" class="line-field min-w-0 grow" name="instrument">
      <option v-if="!tool" value="" disabled>{{ t('bench-choose-a-tool') }}</option>
      <option v-for="option in tools" :key="option.id" :value="option.id">
        {{ option.name }}{{ option.fault ? t('bench-does-not-fit') : '' }}
      </option>
    </select>
  </label>
  <p v-if="!tool" class="font-semibold text-wrong" data-test="no-tool">
    {{ t('bench-no-tool-of-the-shop-fits') }}
  </p>
  <p v-if="tool?.fault" class="font-semibold text-wrong" data-test="tool-fault">
    {{ t('bench-readings-with-it-are-recorded-as', { fault: sentence(tool.fault) }) }}
  </p>
</template>
