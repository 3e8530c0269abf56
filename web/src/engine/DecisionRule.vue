<script setup lang="ts">
// By which rule measured values are judged on this engine, and changing it.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { decisionRules, nameOf } from '../ui/decisionRules'
import EngineChoice from './EngineChoice.vue'

const props = defineProps<{ build: string; engine: Schemas['BuildView'] }>()
defineEmits<{ changed: [] }>()
const other = computed(() => decisionRules.find((of) => of.value !== props.engine.decision_rule)!)
const about = computed(
  () =>
    `${other.value.name}: a value is ${other.value.says}. ` +
    'All measurements of this engine are judged again, signed ones included.',
)
</script>

<template>
  <EngineChoice
    :build="build"
    :engine="engine"
    title="Measurements judged by"
    :now="nameOf(engine.decision_rule)"
    :action="`Use ${other.name}`"
    :about="about"
    :usual="['Current edition', 'The customer asks for it']"
    name="change-decision-rule"
    :otherwise="(reason) => ({ type: 'set-decision-rule', decision_rule: other.value, reason })"
    @changed="$emit('changed')"
  />
</template>
