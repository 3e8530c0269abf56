<script setup lang="ts">
// Turning the crankshaft: free, binding, or the torque it takes, against the times before.
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import type { Do } from '../api/outbox'
import { torqueUnit } from '../ui/preferences'
import { fromTorque, torque, when } from '../ui/units'

const props = defineProps<{
  bench: Schemas['Bench']
  turns: Schemas['TurnView'][]
  busy: boolean
  act: (what: Do) => Promise<boolean>
}>()
const entry = ref('')

async function turned(free: boolean) {
  const value = entry.value.trim()
  const torque_nm = value ? fromTorque(Number(value.replace(',', '.'))) : null
  if (await props.act({ type: 'turn', operation: props.bench.operation.id, free, torque_nm })) entry.value = ''
}
</script>

<template>
  <div class="mt-4 grid max-w-3xl gap-5">
    <p class="text-4xl leading-tight font-semibold">Turn the crankshaft two whole turns by hand.</p>
    <label class="max-w-sm">
      <span class="label-text">Turning torque in {{ torqueUnit }}, where it was measured</span>
      <input v-model="entry" name="turning-torque" class="field mt-1 text-2xl" inputmode="decimal" autocomplete="off" />
    </label>
    <div class="flex flex-wrap gap-4">
      <button class="key key-main min-h-20 px-10 text-3xl" :disabled="busy" data-test="free" @click="turned(true)">Turns freely</button>
      <button class="key min-h-20 px-10 text-3xl" :disabled="busy" data-test="binds" @click="turned(false)">Binds</button>
    </div>
    <table v-if="turns.length" class="text-left">
      <caption class="text-left text-dim">Turned before</caption>
      <tbody>
        <tr v-for="turn in turns" :key="turn.seq" class="border-b border-rule">
          <td class="py-1">{{ turn.operation }}</td>
          <td :class="!turn.free && 'font-semibold text-wrong'">{{ turn.free ? 'free' : '▲ binds' }}</td>
          <td>{{ turn.torque_nm == null ? '' : `${torque(turn.torque_nm)} ${torqueUnit}` }}</td>
          <td class="text-dim">{{ turn.by }}, {{ when(turn.at) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
