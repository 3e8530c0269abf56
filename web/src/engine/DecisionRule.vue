<script setup lang="ts">
// By which rule measured values are judged on this engine, and changing it.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { decisionRules, nameOf } from '../ui/decisionRules'
import EngineChoice from './EngineChoice.vue'
import { t } from './texts'

const props = defineProps<{ build: string; engine: Schemas['BuildView'] }>()
defineEmits<{ changed: [] }>()
const other = computed(() => decisionRules.find((of) => of.value !== props.engine.decision_rule)!)
const about = computed(
  () =>
    t('engine-a-value-is', { other: other.value.name, says: other.value.says }) +
    t('engine-all-measurements-of-this-engine-are'),
)
</script>

<template>
  <EngineChoice
    :build="build"
    :engine="engine"
    :title="t('common-measurements-judged-by')"
    :now="nameOf(engine.decision_rule)"
    :action="t('engine-use', { other: other.name })"
    :about="about"
    :usual="[t('engine-current-edition'), t('engine-the-customer-asks-for-it')]"
    name="change-decision-rule"
    :otherwise="(reason) => ({ type: 'set-decision-rule', decision_rule: other.value, reason })"
    @changed="$emit('changed')"
  />
</template>
