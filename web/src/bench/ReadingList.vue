<script setup lang="ts">
// The last readings, and voiding one with a reason.
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import ReasonDialog from '../ui/ReasonDialog.vue'
import { figure, say } from '../ui/units'
import { useHand } from './hand'
import { t } from './texts'

type Reading = Schemas['MeasuredView']
defineProps<{ readings: Reading[] }>()
const { act } = useHand()
const chosen = ref<Reading | null>(null)
const SHOWN = 5

/** What else is to be known about a reading. */
function note(reading: Reading): string {
  if (reading.simulated) return t('common-simulated')
  if (reading.method === 'imported') return reading.unlikely ? t('bench-from-a-file-confirmed') : t('bench-from-a-file')
  if (reading.unlikely) return t('bench-confirmed')
  if (reading.temperature_c != null)
    return t('bench-read-at', {
      reading: figure(reading.read, reading.dimension),
      temperature: reading.temperature_c,
    })
  return reading.master != null ? `on ${figure(reading.master, reading.dimension)}` : ''
}

async function voidIt(reason: string) {
  const seq = chosen.value?.seq
  chosen.value = null
  if (seq) await act({ type: 'void', seq, reason })
}
</script>

<template>
  <table v-if="readings.length" class="w-full text-left" data-test="readings">
    <caption class="sr-only">
      {{
        t('bench-last-readings')
      }}
    </caption>
    <tbody>
      <tr
        v-for="reading in readings.slice(0, SHOWN)"
        :key="reading.seq"
        class="border-b border-rule"
        :class="!reading.counts && 'text-dim line-through decoration-1'"
      >
        <td class="py-1">{{ reading.site }} {{ reading.place }}</td>
        <td
          class="px-2 font-semibold whitespace-nowrap"
          :title="t('bench-with', { entered: reading.entered ?? '', instrument: reading.instrument })"
        >
          {{ figure(reading.value, reading.dimension) }}
        </td>
        <td :class="reading.fault ? 'text-wrong' : 'text-dim'">
          {{ reading.fault ? say(reading.fault) : note(reading) }}
        </td>
        <td class="text-right">
          <button
            v-if="!reading.voided"
            class="quiet-key px-2 py-1"
            :aria-label="t('common-void-entry', { seq: reading.seq })"
            @click="chosen = reading"
          >
            {{ t('common-void') }}
          </button>
        </td>
      </tr>
    </tbody>
  </table>
  <ReasonDialog
    :open="!!chosen"
    :title="t('bench-void-a-reading')"
    :about="
      chosen
        ? t('bench-entry-2', {
            site: chosen.site,
            place: chosen.place,
            chosen: figure(chosen.value, chosen.dimension),
            seq: chosen.seq,
          }) + t('bench-it-stays-on-the-record-and')
        : ''
    "
    :action="t('common-void')"
    :usual="[t('bench-typed-wrong'), t('bench-wrong-place'), t('bench-gauge-slipped')]"
    @close="chosen = null"
    @reason="voidIt"
  />
</template>
