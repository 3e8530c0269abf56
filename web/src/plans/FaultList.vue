<script setup lang="ts">
// What is wrong with a plan, each at its line: faults first.
import { computed } from 'vue'
import { OctagonAlert, TriangleAlert } from 'lucide-vue-next'
import type { Schemas } from '../api/client'
import { say } from '../ui/units'
import { t } from './texts'

const props = defineProps<{ faults: Schemas['Fault'][]; lines?: boolean }>()
const emit = defineEmits<{ go: [fault: Schemas['Fault']] }>()
const MOST = 60
const sorted = computed(() =>
  [...props.faults].sort((a, b) => Number(a.severity === 'warning') - Number(b.severity === 'warning')).slice(0, MOST),
)
</script>

<template>
  <ul v-if="faults.length" class="grid gap-1" data-test="faults">
    <li
      v-for="(fault, at) in sorted"
      :key="at"
      class="flex gap-2"
      :class="fault.severity === 'error' ? 'text-wrong' : ''"
      :data-test="fault.severity"
    >
      <component
        :is="fault.severity === 'error' ? OctagonAlert : TriangleAlert"
        class="mt-0.5 size-5 shrink-0"
        :aria-label="fault.severity === 'error' ? t('plans-error') : t('plans-warning')"
      />
      <span class="min-w-0 break-words">
        <button v-if="lines" type="button" class="underline underline-offset-2" @click="emit('go', fault)">
          {{ say(fault.place) || t('plans-line', { line: fault.line }) }}</button><span v-else class="text-dim">{{
          say(fault.place) || fault.path
        }}</span
        >: {{ say(fault.message) }}
      </span>
    </li>
    <li v-if="faults.length > MOST" class="text-dim">{{ t('plans-and-more', { count: faults.length - MOST }) }}</li>
  </ul>
</template>
