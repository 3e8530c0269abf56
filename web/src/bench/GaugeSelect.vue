<script setup lang="ts">
// The gauge in use, out of those that read the stretch of a bolt.
import type { Schemas } from '../api/client'
import { useStretchGauge } from './useStretchGauge'
import { t } from './texts'

const props = defineProps<{ tools: Schemas['ToolFit'][] }>()
const { fitting, gauge } = useStretchGauge(() => props.tools)
</script>

<template>
  <label v-if="gauge" class="flex items-center gap-2">
    <span class="label-text shrink-0">{{ t('bench-tool') }}</span>
    <select v-model="gauge" class="line-field min-w-0 grow" name="gauge">
      <option v-for="tool in fitting" :key="tool.id" :value="tool.id">
        {{ tool.name }}{{ tool.fault ? t('bench-does-not-fit') : '' }}
      </option>
    </select>
  </label>
</template>
