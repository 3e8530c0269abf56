<script setup lang="ts">
// The build sequence of a plan: what comes after what, and what can be done in parallel.
import type { Schemas } from '../api/client'
import RouteCard from '../ui/RouteCard.vue'

defineProps<{ line: Schemas['LineRow'][]; changeable?: boolean }>()
const emit = defineEmits<{ change: [row: Schemas['LineRow']] }>()
const kinds: Record<Schemas['OperationKind'], string> = {
  'take-in': 'log in',
  prepare: 'prepare',
  fit: 'fit',
  check: 'check',
  seal: 'seal',
  tighten: 'tighten',
  loosen: 'take apart',
  measure: 'measure',
  count: 'count',
  turn: 'turn',
  sign: 'sign',
}
</script>

<template>
  <RouteCard v-slot="{ row }" :rows="line" data-test="line">
    <div class="break-inside-avoid" :data-test="`line-${row.id}`">
      <div class="flex flex-wrap items-baseline gap-x-3 py-1">
        <button
          v-if="changeable"
          class="min-h-6 text-left font-semibold underline underline-offset-4"
          :data-test="`step-${row.id}`"
          @click="emit('change', row)"
        >
          {{ row.name }}
        </button>
        <span v-else class="font-semibold">{{ row.name }}</span>
        <span class="text-dim"
          ><template v-if="row.kind">{{ kinds[row.kind] }}</template
          ><template v-if="row.repeat">by {{ row.repeat.by }}, {{ row.repeat.times }} times</template></span
        >
        <span v-if="row.earliest < row.place" class="basis-full text-dim">can be done from {{ row.earliest }} on</span>
        <span v-if="row.steps.length" class="basis-full text-dim">{{ row.steps.join(' · ') }}</span>
      </div>
    </div>
  </RouteCard>
</template>
