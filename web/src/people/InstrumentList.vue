<script setup lang="ts">
// The register of instruments: what each can read, and until when it may be trusted.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { isLead } from '../api/session'
import { calibration } from './calibration'
import InstrumentDialog from './InstrumentDialog.vue'
import PasteInstruments from './PasteInstruments.vue'
import DecisionRuleSetting from './DecisionRuleSetting.vue'
import { figure } from '../ui/units'
import ScrollBox from '../ui/ScrollBox.vue'
import SortHeading from '../ui/SortHeading.vue'
import { useSorted } from '../ui/useSorted'
import { listed } from '../ui/catalog'
import { t } from './texts'

type Registered = Schemas['RegisteredInstrument']
const client = useQueryClient()
const { data } = useQuery({ queryKey: ['instruments'], queryFn: async () => take(await api.GET('/api/instruments')) })
const editing = ref<Registered | 'new'>()
const pasting = ref(false)
const find = ref('')
const all = computed(() => data.value ?? [])
const shown = computed(() => {
  const wanted = find.value.toLowerCase().split(/\s+/).filter(Boolean)
  const said = (of: Registered) => `${of.name} ${of.serial} ${words(of)} ${due(of)}`.toLowerCase()
  return all.value.filter((of) => wanted.every((word) => said(of).includes(word)))
})
const { sort, sorted } = useSorted(
  shown,
  {
    name: (of) => of.name,
    serial: (of) => of.serial,
    range: (of) => of.torque_nm?.[1] ?? of.length_mm?.[1] ?? of.volume_cc?.[1],
    due: (of) => of.days_left,
  },
  { by: '', down: false },
)
/** Instruments in use come first, where nobody chose another order. */
const rows = computed(() =>
  sort.value.by
    ? sorted.value
    : [...sorted.value.filter((of) => of.active), ...sorted.value.filter((of) => !of.active)],
)
function words(of: Registered): string {
  const range = (range: number[] | null | undefined, unit: string) =>
    range ? t('people-range-of', { low: range[0], high: range[1], unit }) : ''
  return [
    range(of.torque_nm, 'N·m'),
    of.clicks ? t('people-clicks') : '',
    of.angle ? t('people-angle') : '',
    range(of.length_mm, 'mm'),
    range(of.volume_cc, 'cm³'),
    of.away
      ? t(of.away.until ? 'people-away-until' : 'people-away-at', { place: of.away.place, until: of.away.until })
      : '',
    of.kept_for.length ? t('people-only-for', { kept_for: listed(of.kept_for) }) : '',
    of.driver_nm ? t('people-max', { torque: figure(of.driver_nm, 'torque') }) : '',
    ...(of.measures ?? []).map((one) => range(one.range, one.unit)),
    of.simulated ? 'a stand-in' : '',
  ]
    .filter(Boolean)
    .join(', ')
}
const due = (of: Registered) => calibration(of) || (of.torque_nm || of.length_mm ? t('common-no-calibration-date') : '')
async function kept() {
  editing.value = undefined
  pasting.value = false
  await Promise.all(
    ['instruments', 'doings', 'shop', 'build'].map((key) => client.invalidateQueries({ queryKey: [key] })),
  )
}
</script>

<template>
  <section>
    <div class="flex flex-wrap items-baseline gap-x-6">
      <h2 class="text-2xl font-semibold">{{ t('common-instruments') }}</h2>
      <button v-if="isLead" class="quiet-key min-h-11" data-test="add-instrument" @click="editing = 'new'">
        {{ t('people-add-instrument') }}
      </button>
      <button v-if="isLead" class="quiet-key min-h-11" data-test="paste-instruments" @click="pasting = true">
        {{ t('people-paste-from-a-spreadsheet') }}
      </button>
    </div>
    <label v-if="all.length > 8" class="flex items-center gap-2 border-b border-rule py-1 sm:max-w-md"
      ><span class="label-text">{{ t('common-find') }}</span
      ><input
        v-model="find"
        type="search"
        name="find-instrument"
        class="line-field w-full"
        autocomplete="off"
        :placeholder="t('people-name-serial-range')"
    /></label>
    <ScrollBox v-if="all.length" :label="t('common-instruments')">
      <table class="w-full text-left" data-test="instruments">
        <thead class="text-dim">
          <tr class="border-b border-ink">
            <SortHeading v-model="sort" by="name" :label="t('common-name')" />
            <SortHeading v-model="sort" by="serial" :label="t('common-serial')" />
            <SortHeading v-model="sort" by="range" :label="t('people-range')" />
            <SortHeading v-model="sort" by="due" :label="t('people-calibration')" />
            <th scope="col" class="font-normal">{{ t('people-card') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="of in rows" :key="of.id" class="border-b border-rule align-baseline">
            <th scope="row" class="pr-3 font-semibold">
              <button
                v-if="isLead"
                class="min-h-11 text-left font-semibold underline underline-offset-4"
                :class="!of.active && 'line-through'"
                :data-test="`instrument-${of.id}`"
                @click="editing = of"
              >
                <bdi>{{ of.name }}</bdi></button
              ><template v-else>{{ of.name }}</template>
            </th>
            <td class="pr-3 whitespace-nowrap text-dim">{{ of.serial }}</td>
            <td class="pr-3">{{ words(of) }}</td>
            <td class="pr-3" :class="of.active && of.due === 'over' ? 'font-semibold text-wrong' : 'text-dim'">
              {{ of.active && of.due === 'over' ? '▲ ' : '' }}{{ due(of) }}
            </td>
            <td>
              <RouterLink
                :to="`/own/instruments/${of.id}`"
                class="inline-flex min-h-11 items-center whitespace-nowrap underline underline-offset-4"
                :data-test="`card-${of.id}`"
                >{{ of.torque_nm || of.length_mm ? t('people-check-card') : t('people-card') }}</RouterLink
              >
            </td>
          </tr>
        </tbody>
      </table>
    </ScrollBox>
    <p v-if="all.length && !rows.length" class="py-3">{{ t('people-no-instruments-match') }}</p>
    <p v-if="data && !data.length" class="text-dim">{{ t('people-no-instruments-yet-work-by-hand') }}</p>
    <DecisionRuleSetting />
    <PasteInstruments v-if="pasting" @close="pasting = false" @kept="kept" />
    <InstrumentDialog v-if="editing" :instrument="editing" @close="editing = undefined" @kept="kept" />
  </section>
</template>
