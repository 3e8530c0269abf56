<script setup lang="ts">
// Readings of a measuring machine's file: which column is what, what would be recorded, and then recording it one by
// one, as if each had been typed; broken off, the rest can be taken in later.
import { computed, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { useAsk } from '../people/useAsk'
import { gaugeUnits } from '../ui/preferences'
import SheetDialog from '../ui/SheetDialog.vue'
import { figure, say, unitOf, unitsOf } from '../ui/units'
import type { WorkOf } from './benches'
import { useHand } from './hand'
import ScrollBox from '../ui/ScrollBox.vue'
import { t } from './texts'

type Reading = Schemas['TableReading']
const props = defineProps<{ work: WorkOf<'measure'> }>()
const emit = defineEmits<{ close: [] }>()
const { build, bench, post } = useHand()
const { wrong, error, busy, ask } = useAsk()
const text = ref('')
const file = ref('')
const dimension = computed(() => props.work.sites[0]!.dimension)
const view = ref<Schemas['TableView']>()
/** Readings that are not taken, or are although they are unlikely or were read before: by their place in the list. */
const turned = ref(new Set<number>())
const done = ref(0)
const whole = ref(false)
/** What measures such things at all; what fits most of them comes first. */
const tools = computed(() => {
  const all = props.work.tools.flatMap((family) => family.tools).filter((tool) => tool.suits)
  const faults = (id: string) =>
    all.filter((tool) => tool.id === id && tool.fault).length -
    all.filter((tool) => tool.id === id && !tool.fault).length
  return all
    .filter((tool, at) => all.findIndex((other) => other.id === tool.id) === at)
    .map((tool) => ({ ...tool, fits: faults(tool.id) < 0 }))
    .sort((a, b) => faults(a.id) - faults(b.id))
})
const instrument = ref(tools.value[0]?.id ?? '')
const unit = ref(
  unitsOf(dimension.value).find((of) => of.symbol === (gaugeUnits.value[instrument.value] ?? unitOf(dimension.value)))
    ?.symbol ?? unitsOf(dimension.value)[0]!.symbol,
)

/** Files are as old as the machine that wrote them: what is no UTF-8 is read as the letters of Western Europe. */
async function choose(event: Event) {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (!chosen) return
  const bytes = await chosen.arrayBuffer()
  try {
    text.value = new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    text.value = new TextDecoder(
      new Uint8Array(bytes.slice(0, 2)).join() === '255,254' ? 'utf-16le' : 'windows-1252',
    ).decode(bytes)
  }
  file.value = chosen.name
  await look()
}

async function look(uses?: Schemas['TableColumn'][]) {
  const path = { build: build.value, operation: bench.value.operation.id }
  await ask(async () => {
    view.value = take(
      await api.POST('/api/builds/{build}/operations/{operation}/table', {
        params: { path },
        body: { text: text.value, unit: unit.value, uses },
      }),
    )
    turned.value = new Set()
    done.value = 0
  })
  if (Object.keys(wrong.value).length) view.value = undefined
}
watch(unit, () => view.value && void look(view.value.uses))

const dimensionOf = (site: string) => props.work.sites.find((of) => of.id === site)?.dimension ?? dimension.value
const usual = (of: Reading) => !of.fault && !of.again && (of.before == null || Math.abs(of.before - of.value!) > 1e-9)
const taken = (of: Reading, at: number) => of.value != null && usual(of) !== turned.value.has(at)
const list = computed(() => (view.value?.readings ?? []).map((of, at) => ({ of, at, taken: taken(of, at) })))
const chosen = computed(() => list.value.filter((of) => of.taken))
function turn(at: number) {
  const next = new Set(turned.value)
  if (!next.delete(at)) next.add(at)
  turned.value = next
}

/** What a column can be, as a list shows it. */
const options = computed(() => {
  const places = [...new Set(props.work.sites.flatMap((site) => site.places.map((place) => place.name)))].filter(
    Boolean,
  )
  return [
    { column: { use: 'skip' }, words: t('bench-not-used') },
    { column: { use: 'site' }, words: t('bench-what-was-measured') },
    { column: { use: 'place' }, words: t('bench-where-on-it') },
    { column: { use: 'reading', place: null }, words: t('bench-readings-column') },
    ...places.map((place) => ({ column: { use: 'reading', place }, words: t('bench-readings-of-place', { place }) })),
    ...(places.length ? [{ column: { use: 'reading', place: '1' }, words: t('bench-readings-the-first-place') }] : []),
    ...props.work.sites.flatMap((site, of) =>
      site.places.map((place, at) => ({
        column: { use: 'of', site: of, place: at },
        words: `${site.name} ${place.name}`.trim(),
      })),
    ),
  ].map(({ column, words }) => ({ key: JSON.stringify(column), column: column as Schemas['TableColumn'], words }))
})
const keyOf = (column: Schemas['TableColumn']) => options.value.find((of) => sameColumn(of.column, column))?.key ?? ''
const sameColumn = (a: Schemas['TableColumn'], b: Schemas['TableColumn']) =>
  a.use === b.use &&
  (['site', 'place'] as const).every(
    (key) => ((a as Record<string, unknown>)[key] ?? null) === ((b as Record<string, unknown>)[key] ?? null),
  )
function use(at: number, key: string) {
  const column = options.value.find((of) => of.key === key)
  if (column) void look(view.value!.uses.map((of, index) => (index === at ? column.column : of)))
}

const recording = ref(false)
async function record() {
  ;[recording.value, error.value, done.value] = [true, '', 0]
  try {
    for (const { of } of chosen.value) {
      await post({
        type: 'measure',
        operation: bench.value.operation.id,
        site: of.site,
        place: of.place,
        text: of.text,
        unit: of.unit,
        temperature_c: null,
        sure: of.unlikely,
        method: 'imported',
        instrument: instrument.value,
      })
      done.value++
    }
    emit('close')
  } catch (caught) {
    const why = caught instanceof Refused ? caught.message : String(caught)
    error.value = t('bench-of-are-recorded', { done: done.value, count: chosen.value.length, why })
    const so = error.value
    await look(view.value?.uses)
    error.value = so
  } finally {
    recording.value = false
  }
}
const shown = computed(() => (whole.value ? list.value : list.value.slice(0, 60)))
</script>

<template>
  <SheetDialog open wide :title="t('bench-readings-from-a-file')" @close="recording || emit('close')">
    <div class="-mx-2 mt-3 grid max-h-[78dvh] content-start gap-4 overflow-y-auto px-2 pt-1">
      <div class="flex flex-wrap items-end gap-x-6 gap-y-3">
        <label class="key cursor-pointer focus-within:outline-2"
          >{{ file || t('bench-choose-the-file')
          }}<input
            type="file"
            accept=".csv,.txt,.tsv,text/csv,text/plain"
            class="sr-only"
            name="table-file"
            @change="choose"
        /></label>
        <label
          ><span class="label-text">{{ t('common-figures-in') }}</span
          ><select v-model="unit" class="line-field" name="table-unit">
            <option v-for="of in unitsOf(dimension)" :key="of.symbol">{{ of.symbol }}</option>
          </select></label
        >
        <label
          ><span class="label-text">{{ t('bench-measured-with') }}</span
          ><select v-model="instrument" class="line-field" name="table-instrument">
            <option v-for="of in tools" :key="of.id" :value="of.id">
              {{ of.name }}{{ of.fits ? '' : t('bench-does-not-fit') }}
            </option>
          </select></label
        >
      </div>
      <label v-if="!view"
        ><span class="label-text">{{ t('bench-or-paste-the-table') }}</span
        ><textarea
          v-model="text"
          class="field mt-1 min-h-32 font-mono"
          name="table-text"
          spellcheck="false"
          :placeholder="t('bench-feature-front-0-front-90')"
        />
      </label>
      <button
        v-if="!view"
        class="key justify-self-start"
        :disabled="!text.trim() || busy"
        data-test="look-at-table"
        @click="look()"
      >
        {{ t('common-preview') }}
      </button>
      <p v-if="error || wrong.text || wrong.body" role="alert" class="font-semibold text-wrong">
        {{ error || wrong.text || wrong.body }}
      </p>
      <template v-if="view">
        <ScrollBox :label="t('bench-first-rows')">
          <table class="text-left" data-test="table">
            <caption class="label-text pb-1 text-left">
              {{
                t('bench-columns-with-their-first-rows')
              }}
            </caption>
            <thead>
              <tr>
                <th
                  v-for="(column, at) in view.table.columns"
                  :key="at"
                  scope="col"
                  class="border-b border-ink pr-4 pb-1 align-bottom font-semibold"
                >
                  {{ column }}
                  <select
                    class="line-field mt-1 block max-w-52 font-normal"
                    :class="view.uses[at]?.use === 'skip' && 'text-dim'"
                    :aria-label="t('bench-column-is', { column })"
                    :name="`column-${at}`"
                    :value="keyOf(view.uses[at]!)"
                    @change="use(at, ($event.target as HTMLSelectElement).value)"
                  >
                    <option v-for="of in options" :key="of.key" :value="of.key">{{ of.words }}</option>
                  </select>
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in view.table.rows.slice(0, 4)" :key="row.line" class="border-b border-rule">
                <td
                  v-for="(cell, at) in row.cells"
                  :key="at"
                  class="pr-4 whitespace-nowrap"
                  :class="view.uses[at]?.use === 'skip' && 'text-dim'"
                >
                  {{ cell }}
                </td>
              </tr>
            </tbody>
          </table>
        </ScrollBox>
        <section aria-labelledby="would">
          <h3 id="would" class="text-xl font-semibold">
            {{
              view.readings.length
                ? t('bench-readings', { count: view.readings.length })
                : t('bench-no-readings-with-these-columns')
            }}
          </h3>
          <ul data-test="would">
            <li v-for="one in shown" :key="one.at" class="flex flex-wrap items-center gap-x-3 border-b border-rule">
              <label class="flex min-h-9 items-center gap-2" :class="!one.taken && 'text-dim'"
                ><input
                  type="checkbox"
                  class="size-5"
                  :checked="one.taken"
                  :disabled="one.of.value == null"
                  :data-test="`take-${one.at}`"
                  @change="turn(one.at)"
                />{{ one.of.name }} {{ one.of.at }}</label
              >
              <span class="font-semibold" :class="!one.taken && 'text-dim'">{{
                one.of.value == null ? one.of.text : figure(one.of.value, dimensionOf(one.of.site))
              }}</span>
              <span v-if="one.of.fault" class="text-wrong"
                >▲ {{ say(one.of.fault).replace(' Enter again keeps it as it is.', '') }}</span
              >
              <span v-else-if="one.of.again" class="text-dim">{{ t('bench-repeated-further-down') }}</span>
              <span v-else-if="one.of.before != null" class="text-dim">{{
                usual(one.of)
                  ? t('bench-was-measured-again', { before: figure(one.of.before, dimensionOf(one.of.site)) })
                  : t('bench-is-recorded')
              }}</span>
            </li>
          </ul>
          <button v-if="shown.length < list.length" class="key mt-2" @click="whole = true">
            {{ t('bench-more', { count: list.length - shown.length }) }}
          </button>
          <details v-if="view.left.length" class="mt-2" data-test="left">
            <summary class="cursor-pointer">
              {{
                t('bench-not-imported', {
                  count: view.left.length === 1 ? t('bench-one-row') : t('bench-rows', { count: view.left.length }),
                })
              }}
            </summary>
            <ul>
              <li v-for="row in view.left.slice(0, 50)" :key="row.line" class="text-dim">
                {{ t('bench-line', { line: row.line, why: row.why }) }}
              </li>
            </ul>
          </details>
        </section>
      </template>
      <div class="sticky bottom-0 flex flex-wrap justify-end gap-3 bg-face pt-2">
        <button v-if="view" class="key mr-auto" :disabled="recording" @click="view = undefined">
          {{ t('bench-another-table') }}
        </button>
        <button class="key" :disabled="recording" @click="emit('close')">{{ t('common-cancel') }}</button>
        <button
          v-if="view"
          class="key key-main"
          :disabled="!chosen.length || !instrument || recording || busy"
          data-test="record-table"
          @click="record"
        >
          {{
            recording ? t('bench-of-2', { done, count: chosen.length }) : t('bench-record-2', { count: chosen.length })
          }}
        </button>
      </div>
    </div>
  </SheetDialog>
</template>
