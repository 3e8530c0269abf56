<script setup lang="ts">
// The build sequence of a plan: what comes after what, and what can be done in parallel.
import type { Schemas } from '../api/client'
import RouteCard from '../ui/RouteCard.vue'
import { t } from './texts'

defineProps<{ line: Schemas['LineRow'][]; changeable?: boolean }>()
const emit = defineEmits<{ change: [row: Schemas['LineRow']] }>()
const kinds: Record<Schemas['OperationKind'], string> = {
  'take-in': t('plans-log-in'),
  prepare: t('plans-prepare'),
  fit: t('plans-fit'),
  check: t('plans-check'),
  seal: t('plans-seal'),
  tighten: t('plans-tighten-2'),
  loosen: t('plans-take-apart'),
  measure: t('plans-measure'),
  count: t('plans-count'),
  turn: t('plans-turn'),
  sign: t('plans-sign'),
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
          ><template v-if="row.repeat">{{
            t('plans-by-times', { by: row.repeat.by, times: row.repeat.times })
          }}</template></span
        >
        <span v-if="row.earliest < row.place" class="basis-full text-dim">{{
          t('plans-can-be-done-from-on', { earliest: row.earliest })
        }}</span>
        <span v-if="row.steps.length" class="basis-full text-dim">{{ row.steps.join(' · ') }}</span>
      </div>
    </div>
  </RouteCard>
</template>
