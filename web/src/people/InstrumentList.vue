<script setup lang="ts">
// The register of instruments: what each can read, and until when it may be trusted.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { isLead } from '../api/session'
import { calibration } from './calibration'
import InstrumentDialog from './InstrumentDialog.vue'
import DecisionRuleSetting from './DecisionRuleSetting.vue'
import { figure } from '../ui/units'

type Registered = Schemas['RegisteredInstrument']
const client = useQueryClient()
const { data } = useQuery({ queryKey: ['instruments'], queryFn: async () => take(await api.GET('/api/instruments')) })
const editing = ref<Registered | 'new'>()
const inUse = computed(() => (data.value ?? []).filter((of) => of.active))
const away = computed(() => (data.value ?? []).filter((of) => !of.active))
function words(of: Registered): string {
  const range = (range: number[] | null | undefined, unit: string) =>
    range ? `${range[0]} to ${range[1]} ${unit}` : ''
  return [
    range(of.torque_nm, 'N·m'),
    of.clicks ? 'clicks' : '',
    of.angle ? 'angle' : '',
    range(of.length_mm, 'mm'),
    range(of.volume_cc, 'cm³'),
    of.away ? `away, ${of.away.place}${of.away.until ? ` until ${of.away.until}` : ''}` : '',
    of.kept_for.length ? `only for ${of.kept_for.join(' and ')}` : '',
    of.driver_nm ? `max ${figure(of.driver_nm, 'torque')}` : '',
    ...(of.measures ?? []).map((one) => range(one.range, one.unit)),
    of.simulated ? 'a stand-in' : '',
  ]
    .filter(Boolean)
    .join(', ')
}
const due = (of: Registered) => calibration(of) || (of.torque_nm || of.length_mm ? 'no calibration date' : '')
async function kept() {
  editing.value = undefined
  await Promise.all(
    ['instruments', 'doings', 'shop', 'build'].map((key) => client.invalidateQueries({ queryKey: [key] })),
  )
}
</script>

<template>
  <section>
    <div class="flex flex-wrap items-baseline gap-x-6">
      <h2 class="text-2xl font-semibold">Instruments</h2>
      <button v-if="isLead" class="quiet-key min-h-11" data-test="add-instrument" @click="editing = 'new'">
        Add instrument
      </button>
    </div>
    <ul data-test="instruments">
      <li
        v-for="of in [...inUse, ...away]"
        :key="of.id"
        class="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-1"
      >
        <button
          v-if="isLead"
          class="min-h-11 font-semibold underline underline-offset-4"
          :class="!of.active && 'line-through'"
          :data-test="`instrument-${of.id}`"
          @click="editing = of"
        >
          <bdi>{{ of.name }}</bdi></button
        ><b v-else>{{ of.name }}</b>
        <RouterLink
          :to="`/own/instruments/${of.id}`"
          class="order-last ml-auto min-h-11 content-center underline underline-offset-4"
          :data-test="`card-${of.id}`"
          >{{ of.torque_nm || of.length_mm ? 'Check, card' : 'Card' }}</RouterLink
        >
        <span v-if="of.serial" class="text-dim">{{ of.serial }}</span><span>{{ words(of) }}</span>
        <span :class="of.active && of.due === 'over' ? 'font-semibold text-wrong' : 'text-dim'"
          >{{ of.active && of.due === 'over' ? '▲ ' : '' }}{{ due(of) }}</span
        >
      </li>
    </ul>
    <p v-if="data && !data.length" class="text-dim">No instruments yet. Work by hand and eye needs none.</p>
    <DecisionRuleSetting />
    <InstrumentDialog v-if="editing" :instrument="editing" @close="editing = undefined" @kept="kept" />
  </section>
</template>
