<script setup lang="ts">
// What is done on this engine where another lubricant is used than a torque was given for (C-26).
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import EngineChoice from './EngineChoice.vue'

const props = defineProps<{ build: string; engine: Schemas['BuildView'] }>()
defineEmits<{ changed: [] }>()
const converts = computed(() => props.engine.lubricants === 'convert')
</script>

<template>
  <EngineChoice
    :build="build"
    :engine="engine"
    title="Other lubricant than specified"
    :now="converts ? 'torques are converted' : 'only as specified'"
    :action="converts ? 'Only as specified' : 'Convert'"
    :about="
      converts
        ? 'Torques stay as specified; lead approval needed for another lubricant. ' +
          'Earlier entries stay as they are.'
        : 'Torques will be converted at equal clamp load. What was said before stays as it was; ' +
          'say it again at the bench to have it converted.'
    "
    :usual="['The customer asks for it', 'As the bolt maker specifies']"
    name="change-policy"
    :otherwise="(reason) => ({ type: 'set-policy', lubricants: converts ? 'as-specified' : 'convert', reason })"
    @changed="$emit('changed')"
  />
</template>
