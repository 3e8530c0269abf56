<script setup lang="ts">
// One instrument: its card, checks before work, and what was read with it since it was known to be right.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, take, type Schemas } from '../api/client'
import { isLead, session } from '../api/session'
import { lengthUnit, torqueUnit } from '../ui/preferences'
import { figure, say, sentence, unitsOf, when } from '../ui/units'
import { near } from '../day/dates'
import { calibration } from './calibration'
import TextField from '../ui/TextField.vue'
import { useAsk } from './useAsk'
import { usePageTitle } from '../ui/pageTitle'
import { listed } from '../ui/catalog'
import { t } from './texts'

const route = useRoute()
const client = useQueryClient()
const id = computed(() => String(route.params.instrument))
const path = computed(() => ({ params: { path: { instrument: id.value } } }))
const { data: all } = useQuery({
  queryKey: ['instruments'],
  queryFn: async () => take(await api.GET('/api/instruments')),
})
const { data: card, error: lost } = useQuery({
  queryKey: ['card', id],
  queryFn: async () => take(await api.GET('/api/instruments/{instrument}/card', path.value)),
})
const instrument = computed(() => all.value?.find((of) => of.id === id.value))
const users = computed(() =>
  instrument.value?.kept_for.length ? t('people-only-for', { kept_for: listed(instrument.value.kept_for) }) : '',
)
const torque = computed(() => !!instrument.value?.torque_nm)
const dimension = computed(() => (torque.value ? 'torque' : 'length'))
const checks = computed(() => torque.value || !!instrument.value?.length_mm)
const { wrong, error, busy, ask } = useAsk()
const empty = () => [0, 1, 2].map(() => ({ known: '', read: '' }))
const form = reactive({ known_by: '', unit: '', readings: empty() })
const unit = computed(() => form.unit || (torque.value ? torqueUnit.value : lengthUnit.value))
const checking = ref(false)
const last = computed(() => card.value?.checks[0])
const doubted = ref<Schemas['InstrumentUseView'][]>()
const carding = ref(false)
const edit = reactive({ reference: '', drawer: '', calibrated: '' })
const readings = computed(() => card.value?.used.reduce((sum, of) => sum + of.readings, 0) ?? 0)
const deviation = (of: Schemas['CheckReading']) =>
  `${of.read > of.known ? '+' : ''}${figure(of.read - of.known, dimension.value)}`

async function done(what: () => Promise<Schemas['CardView']>): Promise<boolean> {
  return ask(async () => {
    client.setQueryData(['card', id.value], await what())
    void client.invalidateQueries({ queryKey: ['doings'] })
  })
}
async function check() {
  const body = {
    known_by: form.known_by,
    unit: unit.value,
    readings: form.readings.filter((of) => of.known.trim() || of.read.trim()),
  }
  if (!(await done(async () => take(await api.POST('/api/instruments/{instrument}/checks', { ...path.value, body })))))
    return
  Object.assign(form, { readings: empty() })
  checking.value = false
  doubted.value = undefined
}
function changeCard() {
  const { reference, drawer, calibrated } = card.value!
  Object.assign(edit, { reference, drawer, calibrated })
  carding.value = true
}
async function keepCard() {
  if (
    await done(async () =>
      take(await api.PUT('/api/instruments/{instrument}/card', { ...path.value, body: { ...edit } })),
    )
  )
    carding.value = false
}
async function certify(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  await done(async () =>
    take(
      await api.POST('/api/instruments/{instrument}/certificate', {
        params: { path: { instrument: id.value }, query: { name: file.name } },
        body: file as never,
        bodySerializer: (body: unknown) => body as Blob,
        headers: { 'content-type': 'application/octet-stream' },
      }),
    ),
  )
}
async function doubt() {
  await ask(async () => {
    doubted.value = take(
      await api.POST('/api/instruments/{instrument}/doubts', { ...path.value, body: { check: last.value!.id } }),
    )
    void client.invalidateQueries({ queryKey: ['build'] })
  })
}
usePageTitle(() => instrument.value?.name)
</script>

<template>
  <main class="mx-auto grid w-full max-w-5xl content-start gap-7 px-4 py-6">
    <div class="border-b-2 border-ink pb-3">
      <RouterLink to="/own" class="way-back">{{ t('common-shop-settings') }}</RouterLink>
      <h1 class="text-4xl font-semibold tracking-tight">
        <bdi>{{ instrument?.name ?? t('common-instrument') }}</bdi>
      </h1>
      <p v-if="instrument" class="text-dim">
        {{
          [
            instrument.serial,
            calibration(instrument),
            instrument.away ? '' : card?.drawer && t('people-in', { drawer: card.drawer }),
            users,
          ]
            .filter(Boolean)
            .join(', ')
        }}
      </p>
      <p v-if="instrument?.away" class="font-semibold text-wrong" data-test="is-away">
        {{
          t('people-away', {
            place: instrument.away.place,
            until: instrument.away.until ? t('people-expected-back', { until: near(instrument.away.until) }) : '',
          })
        }}
      </p>
    </div>
    <p v-if="lost && !card">{{ lost.message }}</p>
    <template v-if="instrument && card">
      <section v-if="checks" aria-labelledby="check" data-test="checks">
        <div class="flex flex-wrap items-center gap-4">
          <h2 id="check" class="text-2xl font-semibold">{{ t('people-check-before-work') }}</h2>
          <button
            v-if="!checking && session?.person?.role !== 'viewer'"
            class="key key-main"
            data-test="check"
            @click="checking = true"
          >
            {{ t('people-start-check') }}
          </button>
        </div>
        <form v-if="checking" class="mt-3 grid max-w-2xl gap-3" @submit.prevent="check">
          <TextField
            v-model="form.known_by"
            :label="torque ? t('people-tester-used') : t('people-gauge-blocks-used')"
            name="known-by"
            autocomplete="off"
            :wrong="wrong.known_by"
          />
          <label class="max-w-40"
            ><span class="label-text">{{ t('common-figures-in') }}</span
            ><select v-model="form.unit" class="field mt-1" name="check-unit">
              <option value="">{{ torque ? torqueUnit : lengthUnit }}</option>
              <option v-for="of in unitsOf(dimension)" :key="of.symbol">{{ of.symbol }}</option>
            </select></label
          >
          <div v-for="(reading, at) in form.readings" :key="at" class="grid grid-cols-2 gap-3">
            <TextField
              v-model="reading.known"
              :label="torque ? t('people-tester-reading', { at: at + 1 }) : t('people-block-size', { at: at + 1 })"
              :name="`known-${at}`"
              inputmode="decimal"
              autocomplete="off"
              :wrong="wrong[`readings.${at}.known`]"
            />
            <TextField
              v-model="reading.read"
              :label="instrument.clicks ? t('people-wrench-setting') : t('people-instrument-reading')"
              :name="`read-${at}`"
              inputmode="decimal"
              autocomplete="off"
              :wrong="wrong[`readings.${at}.read`]"
            />
          </div>
          <button
            type="button"
            class="quiet-key justify-self-start py-1"
            @click="form.readings.push({ known: '', read: '' })"
          >
            {{ t('common-add-row') }}
          </button>
          <p v-if="error || wrong.readings || wrong.unit" role="alert" class="font-semibold text-wrong">
            {{ error || wrong.readings || wrong.unit }}
          </p>
          <div class="flex gap-3">
            <button class="key key-main" :disabled="busy" data-test="keep-check">
              {{ t('people-record-check') }}</button><button type="button" class="key" @click="checking = false">
              {{ t('common-cancel') }}
            </button>
          </div>
        </form>
        <div v-if="last && !last.checked.good" class="mt-4 border-l-4 border-wrong pl-4" role="alert" data-test="wrong">
          <p class="text-2xl font-semibold text-wrong">▲ {{ sentence(last.says) }}</p>
          <p>
            {{ t('people-do-not-use-it') }}
            <template v-if="readings">
              {{
                t('people-readings-on-were-taken-with-it', {
                  readings,
                  count:
                    card.used.length === 1 ? t('people-one-engine') : t('people-engines', { count: card.used.length }),
                  time: card.right_at
                    ? t('people-since-its-last-good-check', { time: when(card.right_at) })
                    : t('people-with-no-good-check-before'),
                })
              }}
            </template>
            <template v-else>{{ t('people-no-readings-since-its-last-good') }}</template>
          </p>
          <button
            v-if="isLead && readings && !doubted"
            class="key mt-2"
            :disabled="busy"
            data-test="doubt"
            @click="doubt"
          >
            {{ t('people-open-issues-on-these-engines') }}
          </button>
          <p v-if="doubted" class="mt-1 font-semibold" data-test="doubted">
            {{ t('people-issues-opened-on', { doubted: doubted.map((of) => of.name).join(', ') }) }}
          </p>
        </div>
        <p v-if="error && !checking" role="alert" class="font-semibold text-wrong">{{ error }}</p>
        <ol v-if="card.checks.length" class="mt-3">
          <li v-for="of in card.checks" :key="of.id" class="flex flex-wrap gap-x-4 border-b border-rule py-1.5">
            <span class="font-semibold" :class="!of.checked.good && 'text-wrong'">{{
              of.checked.good ? t('people-in-tolerance') : t('people-out-of-tolerance')
            }}</span>
            <span>{{ of.checked.readings.map(deviation).join(', ') }}</span>
            <span class="text-dim">{{
              t('people-against', { says: say(of.says), known_by: of.known_by, by: of.by, time: when(of.at) })
            }}</span>
          </li>
        </ol>
        <p v-else class="mt-2 text-dim">{{ t('people-never-checked-here') }}</p>
      </section>
      <section v-if="card.used.length" aria-labelledby="used" data-test="used">
        <h2 id="used" class="text-2xl font-semibold">
          {{ card.right_at ? t('people-readings-since', { time: when(card.right_at) }) : t('common-readings') }}
        </h2>
        <ul class="columns-1 gap-x-10 sm:columns-2">
          <li v-for="of in card.used" :key="of.build" class="border-b border-rule py-1">
            <RouterLink :to="`/engines/${of.build}`" class="font-semibold underline-offset-4 hover:underline">{{
              of.name
            }}</RouterLink>
            <span class="text-dim">{{
              t('people-readings-the-last', { readings: of.readings, time: when(of.last) })
            }}</span>
          </li>
        </ul>
      </section>
      <section aria-labelledby="card">
        <div class="flex items-baseline gap-4">
          <h2 id="card" class="text-2xl font-semibold">{{ t('people-card') }}</h2>
          <button v-if="isLead && !carding" class="quiet-key min-h-11" data-test="change-card" @click="changeCard">
            {{ t('common-change') }}
          </button>
        </div>
        <form v-if="carding" class="grid max-w-2xl gap-3" @submit.prevent="keepCard">
          <TextField
            v-model="edit.reference"
            :label="t('people-makers-reference')"
            name="card-reference"
            autocomplete="off"
            :wrong="wrong.reference"
          />
          <TextField
            v-model="edit.drawer"
            :label="t('people-storage-place')"
            name="card-drawer"
            autocomplete="off"
            :wrong="wrong.drawer"
          />
          <TextField
            v-model="edit.calibrated"
            :label="t('people-calibrated-on')"
            type="date"
            name="card-calibrated"
            :wrong="wrong.calibrated"
          />
          <div class="flex gap-3">
            <button class="key key-main" :disabled="busy" data-test="keep-card">{{ t('common-save') }}</button><button
              type="button"
              class="key"
              @click="carding = false"
            >
              {{ t('common-cancel') }}
            </button>
          </div>
        </form>
        <dl v-else class="grid max-w-2xl grid-cols-[10rem_1fr] gap-y-1">
          <dt class="text-dim">{{ t('people-makers-reference') }}</dt>
          <dd>{{ card.reference || t('people-not-given') }}</dd>
          <dt class="text-dim">{{ t('people-storage-place') }}</dt>
          <dd>{{ card.drawer || t('people-not-given') }}</dd>
          <dt class="text-dim">{{ t('people-calibrated-on') }}</dt>
          <dd>{{ card.calibrated || t('people-not-given') }}</dd>
          <dt class="text-dim">{{ t('people-certificate') }}</dt>
          <dd>
            <a v-if="card.certificate" :href="card.certificate" class="underline underline-offset-4" download>{{
              card.certificate_name || t('people-the-file')
            }}</a><span v-else>{{ t('common-none') }}</span>
            <label v-if="isLead" class="quiet-key ml-4 cursor-pointer"
              >{{ card.certificate ? t('common-replace') : t('people-add-certificate')
              }}<input
                type="file"
                accept="application/pdf,image/jpeg,image/png"
                class="sr-only"
                name="certificate"
                @change="certify"
            /></label>
            <span v-if="wrong.certificate" role="alert" class="block font-semibold text-wrong">{{
              wrong.certificate
            }}</span>
          </dd>
        </dl>
      </section>
    </template>
  </main>
</template>
