<script setup lang="ts">
// Measuring: the site in hand with its place drawn, the reading, and the clearances so far.
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { Refused, type Schemas } from '../api/client'
import { send, type Do } from '../api/outbox'
import { useShop } from '../api/queries'
import { vFocus } from '../ui/focus'
import { gauges, gaugeUnits, lengthUnit, person } from '../ui/preferences'
import { day, length, size, sizeText, unitsOf } from '../ui/units'
import ClearancePicture from './ClearancePicture.vue'
import ReadingList from './ReadingList.vue'
import ShellStock from './ShellStock.vue'
import SiteDrawing from './SiteDrawing.vue'

/** A place on a site. */
interface Spot {
  site: string
  place: number
}

const props = defineProps<{
  bench: Schemas['Bench']
  work: Schemas['MeasureBench']
  build: string
  busy: boolean
  act: (what: Do) => Promise<boolean>
}>()
const emit = defineEmits<{ refused: [message: string]; refresh: [] }>()

const { data: shop } = useShop()
const entry = ref('')
const temperature = ref('')
const master = ref('')
/** A reading that came back: unlikely, and asked about, or not one at all. */
const returned = ref<{ spot: Spot; text: string; message: string; ask: boolean } | null>(null)
const field = ref<HTMLInputElement>()
const pictureList = ref<InstanceType<typeof ClearancePicture>[]>([])
/** A place that was tapped, or that a reading is being typed for. */
const chosen = ref<Spot | null>(null)
/** A kind of sites that is looked at while another is measured. */
const looked = ref('')
/** The place read last on this screen: from here it goes on, wherever others measure. */
const last = ref<Spot | null>(null)

const spots = computed(() =>
  props.work.sites.flatMap((s) => s.places.map((p, place) => ({ site: s.id, place, value: p.value, filing: s.file_mm != null }))),
)
/** The next place that is open, from the one read last on: empty, or to be filed and read again. */
const next = computed<Spot | null>(() => {
  if (props.bench.step.kind !== 'measure') return null
  const step: Spot = { site: props.bench.step.site, place: props.bench.step.place }
  const at = spots.value.findIndex((s) => s.site === last.value?.site && s.place === last.value.place)
  const from = at < 0 ? -1 : spots.value[at]!.filing ? at : at + 1
  if (from < 0) return step
  const round = [...spots.value.slice(from), ...spots.value.slice(0, from)]
  return round.find((s) => s.value == null || s.filing) ?? step
})
const here = computed(() => chosen.value ?? returned.value?.spot ?? next.value)
const asked = computed(() => (returned.value?.ask ? returned.value.message : ''))
const site = computed(() => props.work.sites.find((s) => s.id === here.value?.site))
const place = computed(() => site.value?.places[here.value?.place ?? 0])
const shells = computed(() => (props.bench.step.kind === 'shells' ? props.bench.step : null))

/** Instruments for the site in hand, those that fit first. */
const tools = computed(() => {
  const fits = props.work.tools.find((t) => t.family === site.value?.family)?.tools ?? []
  const known = fits.flatMap(({ id, made_for, fault }) => {
    const tool = shop.value?.instruments.find((i) => i.id === id)
    return tool ? [{ ...tool, made_for, fault }] : []
  })
  return known.sort((a, b) => Number(!!a.fault) - Number(!!b.fault) || Number(b.made_for) - Number(a.made_for) || (a.accuracy ?? 0) - (b.accuracy ?? 0))
})
const gauge = computed({
  get: () => {
    const kept = gauges.value[site.value?.family ?? '']
    return tools.value.find((t) => t.id === kept)?.id ?? tools.value[0]?.id ?? ''
  },
  set: (id: string) => {
    if (site.value) gauges.value = { ...gauges.value, [site.value.family]: id }
  },
})
const tool = computed(() => tools.value.find((t) => t.id === gauge.value))
const volume = computed(() => site.value?.dimension === 'volume')
/** The unit that the gauge in hand reads in. */
const unit = computed({
  get: () => (volume.value ? 'cm³' : (gaugeUnits.value[gauge.value] ?? lengthUnit.value)),
  set: (symbol: string) => {
    gaugeUnits.value = { ...gaugeUnits.value, [gauge.value]: symbol }
  },
})
/** Clearances, those that rest on what is being measured first. */
const pictures = computed(() => {
  const rests = (id: string) => props.work.clearances.some((c) => c.id === id && c.families.includes(site.value?.family ?? ''))
  const all = [...new Set(props.work.clearances.map((c) => c.id))]
  return [...all.filter(rests), ...all.filter((id) => !rests(id))]
})
/** Kinds of sites with how far each is, the one in hand opened. */
const families = computed(() =>
  [...new Set(props.work.sites.map((s) => s.family))].map((id) => {
    const sites = props.work.sites.filter((s) => s.family === id)
    const places = sites.flatMap((s) => s.places.map((p) => p.value != null && s.file_mm == null))
    const name = sites.length > 1 ? sites[0]!.name.replace(/ \d+$/, '') : sites[0]!.name
    return { id, sites, name, done: places.filter(Boolean).length, total: places.length }
  }),
)
const opened = computed(() => families.value.find((f) => f.id === (looked.value || site.value?.family)))
const graded = computed(() => props.work.clearances.find((c) => c.id === shells.value?.clearance))

function focus() {
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

const same = (a: Spot | undefined, b: Spot) => a?.site === b.site && a.place === b.place

/** Takes the reading; the next one can be typed while it is on its way. What is unlikely is asked about and kept when Enter is pressed again. */
function record() {
  const text = entry.value.trim()
  const spot = here.value
  if (!spot || !text) return
  const warm = temperature.value.trim().replace(',', '.')
  if (warm && !Number.isFinite(Number(warm))) {
    emit('refused', `Part at: \`${warm}\` is not a temperature in °C. The reading is kept in its field.`)
    return
  }
  const again = same(returned.value?.spot, spot) ? returned.value : null
  const what: Do = {
    type: 'measure',
    operation: props.bench.operation.id,
    site: spot.site,
    place: spot.place,
    text: master.value.trim() ? `${text} on ${master.value.trim()}` : text,
    unit: unit.value,
    temperature_c: warm ? Number(warm) : null,
    sure: !!again?.ask && again.text === text,
    method: 'typed',
    instrument: gauge.value,
  }
  if (again) returned.value = null
  entry.value = ''
  chosen.value = null
  last.value = spot
  emit('refused', '')
  void deliver(spot, text, what)
  focus()
}

async function deliver(spot: Spot, text: string, what: Do) {
  try {
    await send(props.build, props.bench.seq, what)
    emit('refresh')
  } catch (caught) {
    const ask = caught instanceof Refused && caught.is('ask')
    const message = caught instanceof Error ? caught.message : String(caught)
    returned.value = { spot, text, message, ask }
    if (!ask) emit('refused', message)
    if (!entry.value) entry.value = text
    focus()
  }
}

function select(id: string, place: number) {
  returned.value = null
  chosen.value = { site: id, place }
  focus()
}

/** Records shells, one bore after the other; ends at the first that is refused. */
async function choose(clearance: string, choices: { number: number; upper: string; lower: string }[]) {
  for (const choice of choices) {
    const what: Do = { type: 'choose-shells', operation: props.bench.operation.id, clearance, ...choice }
    if (!(await props.act(what))) return
  }
}

const takeProposed = () => pictureList.value.find((picture) => picture.id === shells.value?.clearance)?.takeAll()

// A reading that is being typed stays for its place, whatever another screen records meanwhile.
// One that came back waits until the field is free.
watch(entry, (now, then) => {
  if (now && !then) chosen.value = here.value
  if (!now && returned.value) entry.value = returned.value.text
})
// A master and a temperature are those of one kind of part.
watch(
  () => site.value?.family,
  () => {
    master.value = ''
    temperature.value = ''
    looked.value = ''
  },
)
watch(() => [props.bench.step, person.value, gauge.value, unit.value], focus)
onMounted(focus)
</script>

<template>
  <div class="mt-2 grid grow content-start gap-x-8 gap-y-4 lg:grid-cols-[minmax(0,1fr)_27rem]">
    <section class="order-2 grid min-w-0 grid-cols-[minmax(0,1fr)] content-start gap-4 lg:order-1">
      <div>
        <div class="flex flex-wrap gap-x-5 border-b border-ink" role="group" aria-label="What is measured">
          <button
            v-for="family in families"
            :key="family.id"
            class="-mb-px min-h-11 border-b-4"
            :class="family.id === opened?.id ? 'border-layout font-semibold' : 'border-transparent text-dim'"
            :aria-pressed="family.id === opened?.id"
            :data-test="`family-${family.id}`"
            @click="looked = family.id"
          >
            {{ family.name }} {{ family.done }}/{{ family.total }}
          </button>
        </div>
        <div v-if="opened" class="overflow-x-auto">
          <table class="w-full text-left" data-test="sites">
            <caption class="sr-only">Readings by site</caption>
            <thead v-if="opened.sites[0]!.places.length > 1" class="text-dim">
              <tr>
                <td />
                <th v-for="p in opened.sites[0]!.places" :key="p.name" scope="col" class="pt-1 pr-2 pl-1 text-[0.9375rem] font-normal whitespace-nowrap">
                  {{ p.crank_deg == null ? p.name : `${p.crank_deg}°` }}
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in opened.sites" :key="s.id" class="border-b border-rule" :class="s.id === here?.site && 'font-semibold'">
                <th scope="row" class="py-0.5 pr-3 font-[inherit] whitespace-nowrap">{{ s.name }}</th>
                <td v-for="(p, at) in s.places" :key="at" class="py-0.5 pr-2">
                  <button
                    class="min-h-9 w-full border-b-2 px-1 text-left whitespace-nowrap"
                    :class="s.id === here?.site && at === here?.place ? 'border-layout bg-layout/15' : 'border-transparent'"
                    :aria-label="`${s.name} ${p.name}`"
                    :title="p.name"
                    :data-test="`${s.id}/${at}`"
                    @click="select(s.id, at)"
                  >
                    {{ p.value == null ? '·' : size(p.value, s.dimension) }}
                  </button>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </div>
      <ClearancePicture
        v-for="id in pictures"
        :key="id"
        ref="pictureList"
        :views="work.clearances.filter((c) => c.id === id)"
        :busy="busy"
        @choose="choose"
      />
      <p v-if="work.clearances.some((c) => c.span)" class="text-dim">
        Bar: least to most; line: with uncertainty U (k = 2)<template v-if="work.clearances.some((c) => c.second)">; diamond: plastic strip</template>.
      </p>
    </section>

    <section class="order-1 flex flex-col gap-3 lg:order-2" aria-label="The reading in hand" aria-live="polite">
      <template v-if="site && here">
        <div>
          <p class="text-5xl leading-none font-semibold" data-test="site">{{ site.name }}</p>
          <p v-if="place?.name" class="mt-2 text-4xl leading-none font-semibold text-layout" data-test="place">{{ place.name }}</p>
        </div>
        <p v-if="site.file_mm != null" class="text-3xl leading-tight font-semibold" data-test="file">
          File <span class="text-layout">{{ length(site.file_mm) }} {{ lengthUnit }}</span> off, then measure again
        </p>
        <SiteDrawing :site="site" :at="here.place" />
        <p v-if="chosen && place?.value != null && site.file_mm == null" class="text-dim">
          Measured again: both readings are kept, the last one counts.
          <button class="underline" @click="chosen = null">Back to the next</button>
        </p>
        <form class="flex gap-2" @submit.prevent="record">
          <label class="grow">
            <span class="sr-only">Reading in {{ unit }}</span>
            <input
              ref="field"
              v-model="entry"
              name="reading"
              class="field min-h-16 text-3xl"
              :class="asked && 'border-wrong'"
              autocomplete="off"
              :placeholder="master.trim() ? `Off the master, ${unit}` : `Reading in ${unit}`"
              :aria-invalid="!!asked"
              @keydown.esc="(returned = null), (entry = ''), (chosen = null)"
            />
          </label>
          <button type="submit" class="key min-h-16" :disabled="!entry.trim()">{{ asked && entry.trim() === returned?.text ? 'Keep it' : 'Record' }}</button>
        </form>
        <p v-if="asked" role="alert" class="border-l-4 border-wrong pl-3 text-lg font-medium" data-test="asked">{{ asked }}</p>
        <div class="grid grid-cols-3 gap-x-4 gap-y-1">
          <label class="col-span-3">
            <span class="label-text">With</span>
            <select v-model="gauge" class="min-h-10 w-full border-b border-ink bg-transparent" name="instrument">
              <option v-for="i in tools" :key="i.id" :value="i.id">
                {{ i.name }}, ±{{ sizeText(i.accuracy ?? 0, site.dimension) }}{{ i.fault ? ' (does not fit)' : '' }}
              </option>
            </select>
          </label>
          <p v-if="tool && !tool.fault" class="col-span-3 -mt-0.5 text-[0.9375rem] text-dim">
            Reads to {{ sizeText(tool.resolution ?? 0, site.dimension) }}, {{ tool.calibration_due ? `calibrated to ${day(tool.calibration_due)}` : 'no calibration date' }}
          </p>
          <p v-if="tool?.fault" class="col-span-3 font-medium text-wrong" data-test="tool-fault">
            ▲ {{ tool.fault.charAt(0).toUpperCase() + tool.fault.slice(1) }}. A reading with it needs a lead.
          </p>
          <label>
            <span class="label-text">Reads in</span>
            <select v-model="unit" class="min-h-10 w-full border-b border-ink bg-transparent" name="gauge-unit" :disabled="volume">
              <option v-for="u in unitsOf(site.dimension)" :key="u.symbol">{{ u.symbol }}</option>
            </select>
          </label>
          <label>
            <span class="label-text">Set master, {{ unit }}</span>
            <input v-model="master" name="master" class="min-h-10 w-full border-b border-ink bg-transparent" placeholder="none" autocomplete="off" />
          </label>
          <label>
            <span class="label-text">Part at, °C</span>
            <input v-model="temperature" name="temperature" inputmode="decimal" class="min-h-10 w-full border-b border-ink bg-transparent" placeholder="20" autocomplete="off" />
          </label>
        </div>
      </template>
      <template v-else-if="shells && graded">
        <p class="text-5xl leading-tight font-semibold" data-test="site">Choose the shells</p>
        <p class="text-xl text-dim">{{ shells.name }}</p>
        <template v-if="graded.proposed">
          <p class="text-xl">The proposal lands nearest the target in every bore: the same shells for all where that does.</p>
          <button class="key key-main min-h-16 text-2xl" :disabled="busy" v-focus data-test="take-proposal" @click="takeProposed">
            Take the proposed shells
          </button>
        </template>
        <p v-else class="text-xl font-medium text-wrong">▲ The shells at hand do not go round. Count again, or get more.</p>
        <ShellStock :view="graded" :operation="bench.operation.id" :busy="busy" :act="act" />
      </template>
      <p v-else class="text-5xl leading-tight font-semibold" data-test="site">
        {{ bench.matters.length ? 'All measured, not all right' : 'All measured' }}
      </p>
      <ReadingList :readings="work.readings" :act="act" />
    </section>
  </div>
</template>
