<script setup lang="ts">
// A bolt in the vice: its torques with their stretches on one lubricant after another, and what they show while they
// are typed.
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { v7 } from 'uuid'
import { computed, reactive, ref } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { withResilienceUnit, withUnit } from '../plans/written'
import { figure, say, unitOf } from '../ui/units'
import FrictionPicture from './FrictionPicture.vue'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const { data: fasteners } = useQuery({
  queryKey: ['stretchable'],
  queryFn: async () => take(await api.GET('/api/friction/fasteners')),
})
const { data: lubricants } = useQuery({
  queryKey: ['lubricants'],
  queryFn: async () => take(await api.GET('/api/lubricants')),
})
const { data: instruments } = useQuery({
  queryKey: ['instruments'],
  queryFn: async () => take(await api.GET('/api/instruments')),
})
const known = computed(() => [
  ...(lubricants.value?.generic ?? []),
  ...(lubricants.value?.own.filter((of) => !of.retired) ?? []),
])
const inUse = computed(() => (instruments.value ?? []).filter((of) => of.active))
/** What shows figures comes before what clicks, and a gauge for bolts before any other. */
const wrenches = computed(() =>
  inUse.value.filter((of) => of.torque_nm).sort((a, b) => Number(!!a.clicks) - Number(!!b.clicks)),
)
const isForBolts = (of: Schemas['RegisteredInstrument']) => of.made_for?.includes('length') ?? false
const gauges = computed(() =>
  inUse.value.filter((of) => of.length_mm).sort((a, b) => Number(isForBolts(b)) - Number(isForBolts(a))),
)

const row = () => ({ torque: '', stretch: '', left: '' })
const run = (thread: string) => ({ thread_lubricant: thread, bearing_lubricant: '', readings: [row(), row()] })
const form = reactive({
  chosen: '',
  fastener: '',
  thread: '',
  batch: '',
  resilience: '',
  bearing_diameter: '',
  yield_strength: '',
  shank: '',
  note: '',
  wrench: '',
  gauge: '',
  runs: [run('dry')],
})
/** Which of the plans' fasteners it is; another one is described here. */
function choose() {
  const of = fasteners.value?.[Number(form.chosen)]
  if (form.chosen === '' || !of) return
  Object.assign(form, {
    fastener: of.fastener,
    thread: of.thread,
    resilience: `${Number(of.resilience_um_per_kn.toPrecision(6))} µm/kN`,
    bearing_diameter: `${Number(of.bearing_mm.toFixed(3))} mm`,
    yield_strength: `${Math.round(of.yield_mpa)} MPa`,
    shank: `${Number(of.shank_mm.toFixed(3))} mm`,
  })
}
type Reading = { torque: string; stretch: string }
const isWhole = (of: Reading) => !!of.torque.trim() && !!of.stretch.trim()
const isBegun = (of: Reading) => !!of.torque.trim() || !!of.stretch.trim()
const entry = computed<Schemas['FrictionTestEntry']>(() => ({
  fastener: form.fastener,
  thread: form.thread,
  batch: form.batch,
  resilience: withResilienceUnit(form.resilience),
  bearing_diameter: form.bearing_diameter ? withUnit(form.bearing_diameter, 'length') : null,
  yield_strength: form.yield_strength ? withUnit(form.yield_strength, 'pressure') : null,
  shank: form.shank ? withUnit(form.shank, 'length') : null,
  note: form.note,
  wrench: form.wrench || wrenches.value[0]?.id || '',
  gauge: form.gauge || gauges.value[0]?.id || '',
  torque_unit: unitOf('torque'),
  length_unit: unitOf('clearance'),
  runs: form.runs.map((of) => ({
    ...of,
    bearing_lubricant: of.bearing_lubricant || null,
    readings: of.readings.filter(isBegun),
  })),
}))
const errors = ref<Record<string, string>>({})
const message = ref('')
/** What is typed so far, to be looked at: runs without a whole reading are not, yet. */
const preview = refDebounced(
  computed(() => {
    const { fastener, ...rest } = entry.value
    const runs = rest.runs
      .map((of) => ({ ...of, readings: of.readings.filter(isWhole) }))
      .filter((of) => of.readings.length)
    return runs.length && rest.thread && rest.resilience
      ? { ...rest, fastener: fastener || t('common-bolt'), runs }
      : null
  }),
  250,
)
/** What it shows; what cannot be meant shows nothing. */
const { data: seen } = useQuery({
  queryKey: ['friction-preview', preview],
  queryFn: async () => take(await api.POST('/api/friction/tests/preview', { body: preview.value! })),
  enabled: () => preview.value !== null,
  // What stood there stays until what is typed now has its answer.
  placeholderData: keepPreviousData,
})
const views = computed(() => (preview.value === null ? [] : (seen.value?.runs ?? [])))
/** The view of a run: those before it that are still empty have none. */
const viewOf = (at: number) => {
  const hasOne = (of: { readings: Reading[] }) => of.readings.some(isWhole)
  return hasOne(form.runs[at]!) ? views.value[form.runs.slice(0, at).filter(hasOne).length] : undefined
}
/** The same however often it is sent. */
const id = v7()
const busy = ref(false)

async function save() {
  busy.value = true
  message.value = ''
  errors.value = {}
  try {
    take(await api.POST('/api/friction/tests', { body: { id, test: entry.value } }))
    await Promise.all(['friction-tests', 'friction'].map((key) => client.invalidateQueries({ queryKey: [key] })))
    emit('close')
  } catch (caught) {
    if (caught instanceof Refused) errors.value = caught.byField()
    message.value =
      caught instanceof Refused
        ? Object.values(errors.value).join('; ') || caught.message
        : t('friction-no-connection-nothing-was-lost-try')
  } finally {
    busy.value = false
  }
}
const wrongAt = (field: string) => errors.value[field]
/** What is wrong with a reading: rows that are empty are not sent, and do not count. */
const wrongReading = (run: number, place: number, field: string) => {
  const readings = form.runs[run]!.readings
  const sent = readings.slice(0, place).filter(isBegun).length
  return isBegun(readings[place]!) ? wrongAt(`runs[${run}].readings[${sent}].${field}`) : undefined
}
</script>

<template>
  <form class="mt-6 grid gap-6 border-t-2 border-ink pt-4" data-test="friction-form" @submit.prevent="save">
    <fieldset class="grid gap-3 sm:grid-cols-3">
      <legend class="text-2xl font-semibold">{{ t('common-bolt') }}</legend>
      <label class="sm:col-span-3">
        <span class="label-text">{{ t('friction-from-a-plan-or-other') }}</span>
        <select v-model="form.chosen" class="field mt-1" name="chosen" @change="choose">
          <option value="">{{ t('friction-other-bolt') }}</option>
          <option v-for="(of, at) in fasteners" :key="at" :value="String(at)">
            {{ of.fastener }}, {{ of.thread }} ({{ of.plan }})
          </option>
        </select>
      </label>
      <TextField
        v-model="form.fastener"
        :label="t('common-name')"
        name="fastener"
        :placeholder="t('friction-rod-bolt')"
        :wrong="wrongAt('fastener')"
      />
      <TextField
        v-model="form.thread"
        :label="t('common-thread')"
        name="thread"
        placeholder="M9x1.0, 7/16-20"
        :wrong="wrongAt('thread')"
      />
      <TextField v-model="form.batch" :label="t('common-batch')" name="batch" />
      <TextField
        v-model="form.resilience"
        :label="t('friction-own-resilience-um-kn')"
        name="resilience"
        :placeholder="t('friction-4-83-um-kn')"
        :wrong="wrongAt('resilience')"
      />
      <TextField
        v-model="form.bearing_diameter"
        :label="t('common-mean-bearing-diameter')"
        name="bearing_diameter"
        :placeholder="t('common-standard-head')"
        :wrong="wrongAt('bearing_diameter')"
      />
      <TextField
        v-model="form.yield_strength"
        :label="t('common-yield')"
        name="yield_strength"
        :placeholder="t('friction-1100-mpa-if-known')"
        :wrong="wrongAt('yield_strength')"
      />
      <p v-if="form.chosen === ''" class="text-dim sm:col-span-3">
        {{ t('friction-the-resilience-of-a-bolt-from') }}
        <RouterLink class="underline underline-offset-4" to="/calculate/bolt-resilience" target="_blank">{{
          t('friction-calculations-bolt-resilience')
        }}</RouterLink>{{ t('friction-own') }}
      </p>
    </fieldset>
    <fieldset class="grid gap-3 sm:grid-cols-2">
      <legend class="text-2xl font-semibold">{{ t('common-tools') }}</legend>
      <label
        ><span class="label-text">{{ t('friction-wrench') }}</span
        ><select
          class="field mt-1"
          name="wrench"
          :value="form.wrench || wrenches[0]?.id"
          @change="form.wrench = ($event.target as HTMLSelectElement).value"
        >
          <option v-for="of in wrenches" :key="of.id" :value="of.id">{{ of.name }}</option></select
        ><span v-if="wrongAt('wrench')" class="said-wrong" role="alert">{{ wrongAt('wrench') }}</span></label
      >
      <label
        ><span class="label-text">{{ t('friction-stretch-gauge') }}</span
        ><select
          class="field mt-1"
          name="gauge"
          :value="form.gauge || gauges[0]?.id"
          @change="form.gauge = ($event.target as HTMLSelectElement).value"
        >
          <option v-for="of in gauges" :key="of.id" :value="of.id">{{ of.name }}</option></select
        ><span v-if="wrongAt('gauge')" class="said-wrong" role="alert">{{ wrongAt('gauge') }}</span></label
      >
    </fieldset>
    <fieldset
      v-for="(of, at) in form.runs"
      :key="at"
      class="grid gap-3 border-t border-rule pt-3 lg:grid-cols-[1fr_16rem]"
      :data-test="`run-${at}`"
    >
      <legend class="pr-3 text-2xl font-semibold">{{ t('friction-run', { at: at + 1 }) }}</legend>
      <div class="grid gap-3">
        <div class="grid gap-3 sm:grid-cols-2">
          <label
            ><span class="label-text">{{ t('friction-lubricant-on-the-thread') }}</span
            ><select v-model="of.thread_lubricant" class="field mt-1" :name="`thread-${at}`">
              <option v-for="one in known" :key="one.id" :value="one.id">{{ one.name }}</option>
            </select></label
          >
          <label
            ><span class="label-text">{{ t('friction-under-the-head') }}</span
            ><select v-model="of.bearing_lubricant" class="field mt-1" :name="`bearing-${at}`">
              <option value="">{{ t('friction-the-same') }}</option>
              <option v-for="one in known" :key="one.id" :value="one.id">{{ one.name }}</option>
            </select></label
          >
        </div>
        <table class="w-full max-w-xl text-left">
          <thead class="text-dim">
            <tr>
              <th scope="col" class="font-normal">{{ t('friction-torque', { unit: unitOf('torque') }) }}</th>
              <th scope="col" class="font-normal">{{ t('friction-stretch', { unit: unitOf('clearance') }) }}</th>
              <th scope="col" class="font-normal">{{ t('friction-left-when-loose') }}</th>
              <th>
                <span class="sr-only">{{ t('common-remove') }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <template v-for="(reading, place) in of.readings" :key="place">
              <tr>
                <td class="pr-3">
                  <input
                    v-model="reading.torque"
                    class="line-field min-h-11 w-full text-xl"
                    inputmode="decimal"
                    autocomplete="off"
                    :name="`torque-${at}-${place}`"
                    :aria-label="t('friction-run-torque', { at: at + 1, place: place + 1 })"
                  />
                </td>
                <td class="pr-3">
                  <input
                    v-model="reading.stretch"
                    class="line-field min-h-11 w-full text-xl"
                    inputmode="decimal"
                    autocomplete="off"
                    :name="`stretch-${at}-${place}`"
                    :aria-label="t('friction-run-stretch', { at: at + 1, place: place + 1 })"
                  />
                </td>
                <td class="pr-3">
                  <input
                    v-model="reading.left"
                    class="line-field min-h-11 w-full text-xl"
                    inputmode="decimal"
                    autocomplete="off"
                    :name="`left-${at}-${place}`"
                    :aria-label="t('friction-run-left', { at: at + 1, place: place + 1 })"
                    placeholder="–"
                  />
                </td>
                <td>
                  <button
                    type="button"
                    class="quiet-key min-h-11"
                    :disabled="of.readings.length < 2"
                    @click="of.readings.splice(place, 1)"
                  >
                    {{ t('common-remove') }}
                  </button>
                </td>
              </tr>
              <tr
                v-for="field in ['torque', 'stretch', 'left'].filter((field) => wrongReading(at, place, field))"
                :key="`${place} ${field}`"
              >
                <td colspan="4" class="said-wrong" role="alert">{{ wrongReading(at, place, field) }}</td>
              </tr>
            </template>
          </tbody>
        </table>
        <p v-if="wrongAt(`runs[${at}].readings`)" class="said-wrong" role="alert">
          {{ wrongAt(`runs[${at}].readings`) }}
        </p>
        <div class="flex flex-wrap gap-x-6">
          <button
            type="button"
            class="quiet-key min-h-11"
            :data-test="`add-reading-${at}`"
            @click="of.readings.push(row())"
          >
            {{ t('friction-add-reading') }}
          </button>
          <button v-if="form.runs.length > 1" type="button" class="quiet-key min-h-11" @click="form.runs.splice(at, 1)">
            {{ t('friction-remove-run') }}
          </button>
        </div>
      </div>
      <div aria-live="polite" :data-test="`shown-${at}`">
        <template v-if="viewOf(at)">
          <p class="text-4xl font-semibold">
            K {{ viewOf(at)!.k?.toFixed(3) ?? '–'
            }}<span v-if="viewOf(at)!.error != null" class="ml-2 text-lg font-normal text-dim"
              >± {{ viewOf(at)!.error!.toFixed(3) }}</span
            >
          </p>
          <p v-if="viewOf(at)!.mu != null">μ {{ viewOf(at)!.mu!.toFixed(3) }}</p>
          <p class="text-dim">
            {{
              t('friction-table-k', {
                table: viewOf(at)!
                  .table.map((k) => k.toFixed(3))
                  .join(', '),
              })
            }}
          </p>
          <p v-if="viewOf(at)!.readings.at(-1)">
            {{
              t('friction-clamps-2', {
                torque_nm: figure(viewOf(at)!.readings.at(-1)!.torque_nm, 'torque'),
                clamp_kn: figure(viewOf(at)!.readings.at(-1)!.clamp_kn, 'force'),
              })
            }}<template v-if="viewOf(at)!.readings.at(-1)!.utilisation != null">{{
              t('friction-of-yield', { utilisation: Math.round(viewOf(at)!.readings.at(-1)!.utilisation! * 100) })
            }}</template>
          </p>
          <p v-for="(remark, n) in viewOf(at)!.remarks" :key="n" class="font-semibold">▲ {{ say(remark) }}</p>
        </template>
        <p v-else class="text-dim">{{ t('friction-type-a-torque-with-its-stretch') }}</p>
      </div>
    </fieldset>
    <button
      type="button"
      class="key justify-self-start"
      data-test="add-run"
      @click="
        form.runs.push(
          run(known.find((of) => !form.runs.some((run) => run.thread_lubricant === of.id))?.id ?? 'engine-oil'),
        )
      "
    >
      {{ t('friction-add-a-run-on-another-lubricant') }}
    </button>
    <FrictionPicture v-if="views.length" :runs="views" :name="form.fastener || t('common-bolt')" />
    <TextField
      v-model="form.note"
      :label="t('common-note')"
      name="note"
      :placeholder="t('friction-steel-block-in-the-vice-hardened')"
    />
    <p v-if="message" class="said-wrong" role="alert">{{ message }}</p>
    <div class="flex justify-end gap-3">
      <button type="button" class="key" @click="emit('close')">{{ t('common-cancel') }}</button>
      <button type="submit" class="key key-main" :disabled="busy" data-test="save-test">
        {{ t('friction-save-test') }}
      </button>
    </div>
  </form>
</template>
