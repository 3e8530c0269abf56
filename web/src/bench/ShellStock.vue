<script setup lang="ts">
// Shells in stock by grade: what is counted bounds the proposal.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useHand } from './hand'
import { t } from './texts'

const props = defineProps<{ view: Schemas['ClearanceView'] }>()
const { bench, busy, act } = useHand()
const lines = computed(() => props.view.grades.map((grade, at) => ({ grade, count: props.view.stock[at] ?? null })))

async function counted(grade: string, event: Event) {
  const input = event.target as HTMLInputElement
  const count = Number(input.value)
  if (input.value.trim() === '' || !Number.isInteger(count) || count < 0) {
    input.setCustomValidity(t('bench-enter-a-whole-number-of-shells'))
    input.reportValidity()
    return
  }
  input.setCustomValidity('')
  await act({ type: 'count-shells', operation: bench.value.operation.id, clearance: props.view.id, grade, count })
}
</script>

<template>
  <fieldset class="flex flex-wrap items-baseline gap-x-5 gap-y-1" data-test="stock">
    <legend class="label-text float-left mr-4">{{ t('bench-shells-in-stock') }}</legend>
    <label v-for="line in lines" :key="line.grade" class="flex items-baseline gap-2">
      {{ line.grade }}
      <input
        class="w-14 border-b border-ink bg-transparent text-center"
        inputmode="numeric"
        autocomplete="off"
        :placeholder="t('bench-any')"
        :name="`stock-${line.grade}`"
        :disabled="busy"
        :value="line.count ?? ''"
        @change="counted(line.grade, $event)"
      />
    </label>
  </fieldset>
</template>
