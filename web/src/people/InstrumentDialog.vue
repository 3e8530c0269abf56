<script setup lang="ts">
// An instrument by what it is: only what that kind has is asked for.
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive } from 'vue'
import { api, take, type Schemas } from '../api/client'
import SheetDialog from '../ui/SheetDialog.vue'
import DialogActions from '../ui/DialogActions.vue'
import TextField from '../ui/TextField.vue'
import { useAsk } from './useAsk'
import { t } from './texts'

type Instrument = Schemas['Instrument']
const props = defineProps<{ instrument: Schemas['RegisteredInstrument'] | 'new' }>()
const emit = defineEmits<{ close: []; kept: [] }>()
const kinds = {
  click: t('people-click-wrench'),
  wrench: t('people-dial-or-digital-wrench'),
  angle: t('people-digital-torque-angle-wrench'),
  protractor: t('people-angle-gauge'),
  length: t('people-measuring-tool-micrometer-bore-gauge-dial'),
  volume: t('people-burette'),
  driver: t('people-low-power-driver'),
  other: t('people-other-gauge'),
} as const
type Kind = keyof typeof kinds
const forms = {
  journal: t('people-journals'),
  bore: t('people-bores'),
  gap: t('people-gaps'),
  length: t('people-lengths-stretch'),
  strip: t('people-plastic-strip'),
  deck: t('people-decks'),
  ring: t('people-ring-gaps'),
  valve: t('people-valves'),
} as const
const { wrong, error, busy, ask } = useAsk()
const was = props.instrument === 'new' ? undefined : props.instrument
function kindOf(of: Instrument): Kind {
  if (of.clicks) return 'click'
  if (of.torque_nm) return of.angle ? 'angle' : 'wrench'
  if (of.length_mm) return 'length'
  if (of.volume_cc) return 'volume'
  if (of.driver_nm) return 'driver'
  return of.measures?.length ? 'other' : 'protractor'
}
const text = (value: number | null | undefined) => (value ? String(value) : '')
const range = was?.torque_nm ?? was?.length_mm ?? was?.volume_cc ?? was?.measures?.[0]?.range
const form = reactive({
  kind: was ? kindOf(was) : ('click' as Kind),
  name: was?.name ?? '',
  serial: was?.serial ?? '',
  low: range ? String(range[0]) : '',
  high: range ? String(range[1]) : '',
  unit: was?.measures?.[0]?.unit ?? was?.scale?.unit ?? 'N·m',
  step: text(was?.scale?.step),
  reach: text(was?.reach_mm),
  accuracy: text(was?.measures?.[0]?.accuracy ?? was?.accuracy),
  resolution: text(was?.measures?.[0]?.resolution ?? was?.resolution),
  driver: text(was?.driver_nm),
  made_for: [...(was?.made_for ?? [])] as string[],
  due: was?.calibration_due ?? '',
  simulated: was?.simulated ?? false,
  users: [...(was?.users ?? [])],
  away: !!was?.away,
  place: was?.away?.place ?? '',
  until: was?.away?.until ?? '',
})
const { data: people } = useQuery({ queryKey: ['people'], queryFn: async () => take(await api.GET('/api/people')) })
const hands = computed(() =>
  (people.value ?? []).filter((of) => (of.active && of.role !== 'viewer') || form.users.includes(of.id)),
)
/** The unit of its range. */
const rangeUnit = () => (pulls() ? 'N·m' : form.kind === 'volume' ? 'cm³' : form.kind === 'other' ? form.unit : 'mm')
const pulls = () => ['click', 'wrench', 'angle'].includes(form.kind)
const sizes = () => ['length', 'volume', 'other'].includes(form.kind)
const number = (text: string) => (text.trim() ? Number(text.replace(',', '.')) : null)
/** What cannot be a figure is said here; JSON has none for it. */
function faulty(): string {
  const all = {
    low: t('common-from'),
    high: t('common-to-2'),
    step: t('people-resolution'),
    reach: t('people-effective-length'),
    accuracy: t('people-accuracy'),
    resolution: t('people-resolution'),
    driver: t('people-max-torque'),
  } as const
  return (
    Object.entries(all).flatMap(([key, label]) =>
      Number.isNaN(number(form[key as keyof typeof all])) ? [t('people-a-figure-is-needed', { label })] : [],
    )[0] ?? ''
  )
}
function given(): Instrument {
  const both = [number(form.low) ?? 0, number(form.high) ?? 0]
  const other =
    form.kind === 'other'
      ? [
          {
            unit: form.unit,
            range: both,
            accuracy: number(form.accuracy) ?? 0,
            resolution: number(form.resolution) ?? 0,
          },
        ]
      : []
  return {
    id: was?.id ?? '',
    name: form.name,
    serial: form.serial,
    simulated: form.simulated,
    clicks: form.kind === 'click',
    angle: form.kind === 'angle' || form.kind === 'protractor',
    torque_nm: pulls() ? both : null,
    length_mm: form.kind === 'length' ? both : null,
    volume_cc: form.kind === 'volume' ? both : null,
    driver_nm: form.kind === 'driver' ? number(form.driver) : null,
    reach_mm: pulls() ? number(form.reach) : null,
    scale: pulls() && form.step ? { unit: form.unit, step: number(form.step)! } : null,
    accuracy: form.kind === 'other' ? 0 : (number(form.accuracy) ?? 0),
    resolution: form.kind === 'other' ? 0 : (number(form.resolution) ?? 0),
    made_for: form.kind === 'length' ? (form.made_for as Instrument['made_for']) : [],
    measures: other,
    calibration_due: form.due || null,
    users: form.users,
    away: form.away ? { place: form.place.trim(), until: form.until || null } : null,
  }
}
async function keep(active: boolean) {
  error.value = faulty()
  if (error.value) return
  const body = { instrument: given(), active }
  const done = await ask(async () =>
    take(
      was
        ? await api.PUT('/api/instruments/{instrument}', { params: { path: { instrument: was.id } }, body })
        : await api.POST('/api/instruments', { body }),
    ),
  )
  if (done) emit('kept')
}
const fault = (field: string) => wrong.value[`instrument.${field}`]
const ranged = () => fault('torque_nm') ?? fault('length_mm') ?? fault('volume_cc') ?? fault('measures')
</script>

<template>
  <SheetDialog open :title="was ? was.name : t('people-add-instrument')" @close="emit('close')">
    <form
      class="-mx-2 mt-3 grid max-h-[78dvh] gap-3 overflow-y-auto px-2 pt-1"
      @submit.prevent="keep(was?.active ?? true)"
    >
      <label
        ><span class="label-text">{{ t('common-kind') }}</span
        ><select v-model="form.kind" class="field mt-1" name="instrument-kind">
          <option v-for="(words, key) in kinds" :key="key" :value="key">{{ words }}</option>
        </select></label
      >
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField
          v-model="form.name"
          :label="t('common-name')"
          name="instrument-name"
          autocomplete="off"
          :placeholder="t('people-click-wrench-1')"
          :wrong="fault('name')"
        />
        <TextField
          v-model="form.serial"
          :label="t('people-serial-number')"
          name="instrument-serial"
          autocomplete="off"
          :wrong="fault('serial')"
        />
      </div>
      <div v-if="pulls() || sizes()" class="grid grid-cols-2 gap-3">
        <TextField
          v-model="form.low"
          :label="t('people-from', { unit: rangeUnit() })"
          name="instrument-low"
          inputmode="decimal"
          autocomplete="off"
          :wrong="ranged()"
        />
        <TextField
          v-model="form.high"
          :label="t('common-to-2')"
          name="instrument-high"
          inputmode="decimal"
          autocomplete="off"
        />
      </div>
      <div v-if="pulls()" class="grid grid-cols-3 items-end gap-3">
        <label
          ><span class="label-text">{{ t('people-unit-of-its-scale') }}</span
          ><select v-model="form.unit" class="field mt-1" name="instrument-unit">
            <option v-for="unit in ['N·m', 'lbf·ft', 'lbf·in', 'kgf·m']" :key="unit">{{ unit }}</option>
          </select></label
        >
        <TextField
          v-model="form.step"
          :label="t('people-resolution')"
          name="instrument-step"
          inputmode="decimal"
          autocomplete="off"
          :wrong="fault('scale')"
        />
        <TextField
          v-model="form.reach"
          :label="t('people-effective-length-mm')"
          name="instrument-reach"
          inputmode="decimal"
          autocomplete="off"
          :wrong="fault('reach_mm')"
        />
      </div>
      <label v-if="form.kind === 'other'"
        ><span class="label-text">{{ t('people-quantity') }}</span
        ><select v-model="form.unit" class="field mt-1" name="instrument-unit">
          <option v-for="unit in ['bar', '°', '°C', 'g', 'N·m', 'µm']" :key="unit">{{ unit }}</option>
        </select></label
      >
      <div v-if="sizes()" class="grid grid-cols-2 gap-3">
        <TextField
          v-model="form.accuracy"
          :label="t('people-accuracy')"
          name="instrument-accuracy"
          inputmode="decimal"
          autocomplete="off"
          placeholder="0.002"
          :wrong="fault('accuracy')"
        />
        <TextField
          v-model="form.resolution"
          :label="t('people-resolution')"
          name="instrument-resolution"
          inputmode="decimal"
          autocomplete="off"
          placeholder="0.001"
          :wrong="fault('resolution')"
        />
      </div>
      <fieldset v-if="form.kind === 'length'">
        <legend class="label-text">{{ t('people-only-for-optional') }}</legend>
        <div class="grid grid-cols-2 gap-x-3 sm:grid-cols-4">
          <label v-for="(words, key) in forms" :key="key" class="flex min-h-11 items-center gap-2"
            ><input v-model="form.made_for" type="checkbox" class="size-5" :value="key" /> {{ words }}</label
          >
        </div>
      </fieldset>
      <TextField
        v-if="form.kind === 'driver'"
        v-model="form.driver"
        :label="t('people-max-torque-n-m')"
        name="instrument-driver"
        inputmode="decimal"
        autocomplete="off"
        :wrong="fault('driver_nm')"
      />
      <TextField
        v-model="form.due"
        :label="t('people-calibrated-until')"
        type="date"
        name="instrument-due"
        :wrong="fault('calibration_due')"
      />
      <fieldset v-if="hands.length > 1">
        <legend class="label-text">{{ t('people-only-for-these-people-none-ticked') }}</legend>
        <div class="grid grid-cols-2 gap-x-3 sm:grid-cols-3">
          <label v-for="of in hands" :key="of.id" class="flex min-h-11 items-center gap-2"
            ><input v-model="form.users" type="checkbox" class="size-5" :value="of.id" :data-test="`user-${of.id}`" />
            <bdi>{{ of.name }}</bdi></label
          >
        </div>
      </fieldset>
      <label class="flex min-h-11 items-center gap-2"
        ><input v-model="form.away" type="checkbox" class="size-5" name="instrument-away" />
        {{ t('people-away-from-the-shop') }}</label
      >
      <div v-if="form.away" class="grid gap-3 sm:grid-cols-2">
        <TextField
          v-model="form.place"
          :label="t('common-where')"
          name="instrument-place"
          autocomplete="off"
          :placeholder="t('people-calibration-lab')"
          :wrong="fault('away')"
        />
        <TextField
          v-model="form.until"
          :label="t('people-expected-back-optional')"
          type="date"
          name="instrument-until"
        />
      </div>
      <DialogActions
        :action="t('common-save')"
        :error="error"
        :disabled="busy"
        sticky
        test="keep-instrument"
        @close="emit('close')"
      >
        <button v-if="was" type="button" class="key mr-auto" data-test="put-away" @click="keep(!was.active)">
          {{ was.active ? t('common-retire') : t('common-reactivate') }}
        </button>
      </DialogActions>
    </form>
  </SheetDialog>
</template>
