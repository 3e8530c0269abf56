<script setup lang="ts">
// The last readings, and voiding one with a reason.
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import type { Do } from '../api/outbox'
import ReasonDialog from '../ui/ReasonDialog.vue'
import { length } from '../ui/units'

type Reading = Schemas['MeasuredView']
const props = defineProps<{ readings: Reading[]; act: (what: Do) => Promise<boolean> }>()
const chosen = ref<Reading | null>(null)
const SHOWN = 6

async function voidIt(reason: string) {
  const seq = chosen.value?.seq
  chosen.value = null
  if (seq) await props.act({ type: 'void', seq, reason })
}
</script>

<template>
  <table v-if="readings.length" class="w-full text-left" data-test="readings">
    <caption class="sr-only">Last readings</caption>
    <tbody>
      <tr
        v-for="reading in readings.slice(0, SHOWN)"
        :key="reading.seq"
        class="border-b border-rule"
        :class="(reading.voided || reading.superseded) && 'text-dim line-through decoration-1'"
      >
        <td class="py-1">{{ reading.site }} {{ reading.place }}</td>
        <td class="font-medium">{{ length(reading.value_mm) }}</td>
        <td class="text-dim">{{ reading.unlikely ? 'kept on purpose' : '' }}</td>
        <td class="text-right">
          <button v-if="!reading.voided" class="px-2 py-1 text-dim underline underline-offset-2" :aria-label="`Void entry ${reading.seq}`" @click="chosen = reading">Void</button>
        </td>
      </tr>
    </tbody>
  </table>
  <ReasonDialog
    :open="!!chosen"
    title="Void a reading"
    :about="chosen ? `${chosen.site} ${chosen.place}, ${length(chosen.value_mm)}, entry ${chosen.seq}. It stays readable and no longer counts.` : ''"
    action="Void it"
    :usual="['Typed wrong', 'Wrong place', 'Gauge slipped']"
    @close="chosen = null"
    @reason="voidIt"
  />
</template>
