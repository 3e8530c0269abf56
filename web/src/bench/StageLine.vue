<script setup lang="ts">
// The stages of a procedure: done, in hand, to come.
import type { Schemas } from '../api/client'
import { figure } from '../ui/units'
import { t } from './texts'

defineProps<{ stages: Schemas['StageView'][] }>()
const marks = { done: 'bg-paint', now: 'bg-layout', waiting: 'border border-rule' } as const
</script>

<template>
  <ol class="flex flex-wrap gap-x-6 gap-y-1 border-y border-rule py-2" :aria-label="t('common-stages')">
    <li
      v-for="stage in stages"
      :key="stage.stage"
      class="flex items-baseline gap-2"
      :class="stage.state === 'now' ? 'font-semibold' : 'text-dim'"
      :aria-current="stage.state === 'now' ? 'step' : undefined"
    >
      <span class="h-3 w-1.5 -rotate-45 self-center" :class="marks[stage.state]" aria-hidden="true" />
      {{ stage.name
      }}{{ stage.target && stage.asks?.head ? ` ${figure(stage.target.wanted, stage.target.dimension)}` : '' }}
      <span v-if="stage.target">{{ stage.done }}/{{ stage.total }}</span>
    </li>
  </ol>
</template>
