<script setup lang="ts">
// Measuring: the site in hand with its place drawn, the reading, and the clearances so far.
import { computed, nextTick, onMounted, ref, toRef, watch } from 'vue'
import { Refused } from '../api/client'
import type { CommandAction } from '../api/outbox'
import { takesKeys, vFocus } from '../ui/focus'
import { day, figure, isLength, sentence, smallFigure } from '../ui/units'
import type { WorkOf } from './benches'
import ClearancePicture from './ClearancePicture.vue'
import { useHand } from './hand'
import ReadingList from './ReadingList.vue'
import ShellStock from './ShellStock.vue'
import SiteDrawing from './SiteDrawing.vue'
import SiteTable from './SiteTable.vue'
import TableDialog from './TableDialog.vue'
import { useEntry } from './useEntry'
import { useGauge } from './useGauge'
import TextField from '../ui/TextField.vue'
import { openIssues } from '../ui/issues'

/** A place on a site. */
interface Spot {
  site: string
  place: number
}

const props = defineProps<{ work: WorkOf<'measure'> }>()
const { build, bench, busy, said, act, post, refresh } = useHand()
const field = ref<HTMLInputElement>()
/** The picture of each clearance, by its key. */
const shownPictures = new Map<string, InstanceType<typeof ClearancePicture>>()
const notePicture = (id: string, of: unknown) =>
  of ? shownPictures.set(id, of as InstanceType<typeof ClearancePicture>) : shownPictures.delete(id)
const temperature = ref('')
const fromFile = ref(false)
const master = ref('')
/** A place that was tapped instead of the next one. */
const chosen = ref<Spot | null>(null)
/** The place read last on this screen: from here it goes on, wherever others measure. */
const last = ref<Spot | null>(null)

const spots = computed(() =>
  props.work.sites.flatMap((s) => s.places.map((p, place) => ({ site: s.id, place, open: p.open }))),
)
/** The next place that is open, from the one read last here on. */
const next = computed<Spot | null>(() => {
  const step = bench.value.step
  if (step.kind !== 'measure') return null
  const at = spots.value.findIndex((s) => s.site === last.value?.site && s.place === last.value.place)
  // What was just typed may not be answered yet: only what is filed is read there once more.
  const filing = props.work.sites.some((s) => s.id === last.value?.site && s.file_mm != null)
  const from = filing ? at : at + 1
  const round = at < 0 ? [] : [...spots.value.slice(from), ...spots.value.slice(0, from)]
  const { site, place } = round.find((s) => s.open) ?? step
  return { site, place }
})
const draft = useEntry<string, Spot>({
  place: () => `${build.value}/${bench.value.operation.id}`,
  target: () => chosen.value ?? next.value,
  seen: () => bench.value.seq,
  empty: () => '',
})
const entry = draft.value
const here = draft.target
const site = computed(() => props.work.sites.find((s) => s.id === here.value?.site))
const place = computed(() => site.value?.places[here.value?.place ?? 0])
const shells = computed(() => (bench.value.step.kind === 'shells' ? bench.value.step : null))
const graded = computed(() => props.work.clearances.find((c) => c.id === shells.value?.clearance))
const { tools, tool, gauge, unit, units } = useGauge(
  site,
  toRef(() => props.work.tools),
)

/** Clearances, those that have to do with what is being measured first. */
const pictures = computed(() => {
  const about = (id: string) =>
    props.work.clearances.some((c) => c.id === id && c.families.includes(site.value?.family ?? ''))
  const all = [...new Set(props.work.clearances.map((c) => c.id))]
  return [...all.filter(about), ...all.filter((id) => !about(id))]
})

function focus() {
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

/**
 * Takes the reading; the next one can be typed while it is on its way. What is unlikely is asked about and kept when
 * Enter is pressed again.
 */
function record() {
  const text = entry.value.trim()
  if (!text) return
  const warm = temperature.value.trim().replace(',', '.')
  if (warm && !Number.isFinite(Number(warm))) {
    said.value = `Part temperature: \`${warm}\` is not a temperature in °C. Your reading is kept.`
    return
  }
  // With the draft its site may leave the screen, and the gauge with it.
  const [instrument, readIn] = [gauge.value, unit.value]
  if (!instrument && tools.value.length) {
    said.value = "Choose what it is measured with: none of the shop's tools is made for this. Your reading is kept."
    return
  }
  const typed = draft.take()
  if (!typed) return
  const on = master.value.trim()
  const what: CommandAction = {
    type: 'measure',
    operation: bench.value.operation.id,
    ...typed.target,
    text: on ? `${text} on ${on}` : text,
    unit: readIn,
    temperature_c: warm ? Number(warm) : null,
    sure: !!typed.ask,
    method: 'typed',
    instrument,
  }
  chosen.value = null
  last.value = typed.target
  said.value = ''
  void deliver(what, typed)
  focus()
}

async function deliver(what: CommandAction, typed: NonNullable<ReturnType<typeof draft.take>>) {
  try {
    await post(what, typed.seen)
  } catch (caught) {
    const ask = caught instanceof Refused && caught.is('ask')
    const message = caught instanceof Error ? caught.message : String(caught)
    if (!ask) said.value = message
    typed.giveBack(message, ask)
    focus()
    await refresh()
  }
}

function select(id: string, place: number) {
  chosen.value = { site: id, place }
  if (draft.message.value) draft.clear()
  else draft.aim(chosen.value)
  focus()
}

function leave() {
  chosen.value = null
  draft.clear()
}

/** Records shells, one bore after the other; ends at the first that is refused. */
async function choose(clearance: string, choices: { number: number; upper: string; lower: string }[]) {
  for (const choice of choices) {
    if (!(await act({ type: 'choose-shells', operation: bench.value.operation.id, clearance, ...choice }))) return
  }
}

const takeProposed = () => shownPictures.get(shells.value?.clearance ?? '')?.takeAll()

// A master and a temperature are those of one kind of part.
watch(
  () => site.value?.family,
  () => {
    master.value = ''
    temperature.value = ''
  },
)
watch(() => [bench.value.step, gauge.value, unit.value], focus)
onMounted(focus)
takesKeys(field)
</script>

<template>
  <div class="bench gap-y-4">
    <section class="bench-side grid grid-cols-[minmax(0,1fr)] content-start gap-4">
      <SiteTable :sites="work.sites" :here="here" @select="select" />
      <ClearancePicture
        v-for="id in pictures"
        :key="id"
        :ref="(of) => notePicture(id, of)"
        :views="work.clearances.filter((c) => c.id === id)"
        :busy="busy"
        @choose="choose"
      />
      <p v-if="work.clearances.some((c) => c.span)" class="text-dim">
        Bar: min to max; line: with its guard band, place by place<template v-if="work.clearances.some((c) => c.second)"
          >; diamond: plastic strip</template
        >. Judged by {{ work.clearances[0]?.decision_rule }}.
      </p>
    </section>

    <section class="bench-hand gap-3" aria-label="Reading">
      <template v-if="site && here">
        <div aria-live="polite">
          <p class="text-5xl leading-none font-semibold" data-test="site">{{ site.name }}</p>
          <p v-if="place?.name" class="mt-2 text-4xl leading-none font-semibold text-layout" data-test="place">
            {{ place.name }}
          </p>
        </div>
        <p v-if="site.file_mm != null" class="text-3xl leading-tight font-semibold" data-test="file">
          File <span class="text-layout">{{ figure(site.file_mm, 'clearance') }}</span> off, then measure again
        </p>
        <SiteDrawing :site="site" :at="here.place" />
        <p v-if="chosen && place && !place.open" class="text-dim">
          Measured again: both readings are recorded, the last one counts.
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
              :class="draft.ask.value && 'border-wrong'"
              autocomplete="off"
              :placeholder="master.trim() ? `Difference from the standard, ${unit}` : `Reading in ${unit}`"
              :aria-invalid="draft.ask.value"
              @keydown.esc="leave"
            />
          </label>
          <button type="submit" class="key min-h-16" :disabled="!entry.trim()">
            {{ draft.ask.value ? 'Record anyway' : 'Record' }}
          </button>
        </form>
        <p v-if="draft.ask.value" role="alert" class="said-wrong text-lg" data-test="asked">
          {{ draft.message.value }}
        </p>
        <div class="grid grid-cols-3 items-end gap-x-4 gap-y-1">
          <label class="col-span-3">
            <span class="label-text">Tool</span>
            <select v-model="gauge" class="line-field w-full" name="instrument">
              <option v-if="!tool" value="" disabled>Choose a measuring tool</option>
              <option v-for="option in tools" :key="option.id" :value="option.id">
                {{ option.name }}, ±{{ smallFigure(option.accuracy, site.dimension) }}{{ option.fault ? ' (does not fit)' : '' }}
              </option>
            </select>
          </label>
          <p v-if="tool && !tool.fault" class="col-span-3 -mt-0.5 text-[0.9375rem] text-dim">
            Resolution {{ smallFigure(tool.resolution, site.dimension) }},
            {{ tool.calibration_due ? `calibrated to ${day(tool.calibration_due)}` : 'no calibration date' }}
          </p>
          <p v-if="tool?.fault" class="col-span-3 font-semibold text-wrong" data-test="tool-fault">
            ▲ {{ sentence(tool.fault) }}. Lead approval needed.
          </p>
          <label v-if="units.length > 1">
            <span class="label-text">Unit</span>
            <select v-model="unit" class="field mt-1" name="gauge-unit" :disabled="units.length < 2">
              <option v-for="u in units" :key="u.symbol">{{ u.symbol }}</option>
            </select>
          </label>
          <TextField
            v-if="isLength(site.dimension)"
            v-model="master"
            :label="`Setting standard, ${unit}`"
            name="master"
            placeholder="none"
          />
          <TextField
            v-if="isLength(site.dimension)"
            v-model="temperature"
            label="Part temperature, °C"
            name="temperature"
            inputmode="decimal"
            placeholder="20"
          />
        </div>
      </template>
      <template v-else-if="shells && graded">
        <p class="headline" data-test="site">Choose shells</p>
        <p class="text-xl text-dim">{{ shells.name }}</p>
        <template v-if="graded.proposed">
          <p class="text-xl">
            Proposed: the pair nearest the target in each bore, the same for all bores where possible.
          </p>
          <button
            v-focus
            class="key key-main min-h-16 text-2xl"
            :disabled="busy"
            data-test="take-proposal"
            @click="takeProposed"
          >
            Use proposed shells
          </button>
        </template>
        <p v-else class="text-xl font-semibold text-wrong">
          ▲ Not enough shells in stock for this choice. Count again, or order more.
        </p>
        <ShellStock :view="graded" />
      </template>
      <p v-else class="headline" data-test="site">
        {{ bench.issues.length ? `All measured; ${openIssues(bench.issues.length)}` : 'All measured' }}
      </p>
      <div class="grid gap-1">
        <button class="quiet-key justify-self-start py-1" data-test="from-file" @click="fromFile = true">
          Readings from a file
        </button>
        <ReadingList :readings="work.readings" />
      </div>
      <TableDialog v-if="fromFile" :work="work" @close="fromFile = false" />
    </section>
  </div>
</template>
