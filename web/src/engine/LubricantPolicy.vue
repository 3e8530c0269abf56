<script setup lang="ts">
// What is done on this engine where another lubricant is used than a torque was given for (C-26).
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import EngineChoice from './EngineChoice.vue'
import { t } from './texts'

const props = defineProps<{ build: string; engine: Schemas['BuildView'] }>()
defineEmits<{ changed: [] }>()
const converts = computed(() => props.engine.lubricants === 'convert')
</script>

<template>
  <EngineChoice
    :build="build"
    :engine="engine"
    :title="t('common-other-lubricant-than-specified')"
    :now="converts ? t('engine-torques-are-converted') : t('common-only-as-specified')"
    :action="converts ? t('common-only-as-specified-2') : t('common-convert')"
    :about="
      converts
        ? t('engine-torques-stay-as-specified-lead-approval') + t('engine-earlier-entries-stay-as-they-are')
        : t('engine-torques-will-be-converted-at-equal') + t('engine-say-it-again-at-the-bench')
    "
    :usual="[t('engine-the-customer-asks-for-it'), t('engine-as-the-bolt-maker-specifies')]"
    name="change-policy"
    :otherwise="(reason) => ({ type: 'set-policy', lubricants: converts ? 'as-specified' : 'convert', reason })"
    @changed="$emit('changed')"
  />
</template>
