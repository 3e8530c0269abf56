<script setup lang="ts">
// Turns of the crankshaft.
import type { Schemas } from '../api/client'
import { dated, figure } from '../ui/units'
import { t } from './texts'

defineProps<{ turns: Schemas['TurnView'][] }>()
</script>

<template>
  <p v-for="turn in turns" :key="turn.seq" class="mt-2">
    {{ turn.free ? t('sheet-turned-freely') : t('sheet-bound')
    }}<template v-if="turn.torque_nm != null">, {{ figure(turn.torque_nm, 'torque') }}</template
    >.
    <span class="text-dim">{{ turn.by }}, {{ dated(turn.at) }}</span>
  </p>
</template>
