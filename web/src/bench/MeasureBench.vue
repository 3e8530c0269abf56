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
import { t } from './texts'

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
    said.value = t('bench-part-temperature-is-not-a-temperature', { warm })
    return
  }
  // With the draft its site may leave the screen, and the gauge with it.
  const [instrument, readIn] = [gauge.value, unit.value]
  if (!instrument && tools.value.length) {
    said.value = t('bench-choose-what-it-is-measured-with')
    return
  }
  const typed = draft.take()
  if (!typed) return
  const on = master.value.trim()
  const what: CommandAction = {
    type: 'measure',
    operation: bench.value.operation.id,
    ...typed.target,
    text: on ? t('bench-reading-on', { reading: text, part: on }) : text,
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
        {{ t('common-bar-min-to-max-line-with')
        }}<template v-if="work.clearances.some((c) => c.second)">{{ t('common-diamond-plastic-strip') }}</template
        >{{ t('common-judged-by', { decision_rule: work.clearances[0]?.decision_rule }) }}
      </p>
    </section>

    <section class="bench-hand gap-3" :aria-label="t('bench-reading')">
      <template v-if="site && here">
        <div aria-live="polite">
          <p class="text-5xl leading-none font-semibold" data-test="site">{{ site.name }}</p>
          <p v-if="place?.name" class="mt-2 text-4xl leading-none font-semibold text-layout" data-test="place">
            {{ place.name }}
          </p>
        </div>
        <p v-if="site.file_mm != null" class="text-3xl leading-tight font-semibold" data-test="file">
          {{ t('bench-file') }} <span class="text-layout">{{ figure(site.file_mm, 'clearance') }}</span>
          {{ t('bench-off-then-measure-again') }}
        </p>
        <SiteDrawing :site="site" :at="here.place" />
        <p v-if="chosen && place && !place.open" class="text-dim">
          {{ t('bench-measured-again-both-readings-are-recorded') }}
          <button class="underline" @click="chosen = null">{{ t('bench-back-to-the-next') }}</button>
        </p>
        <form class="flex gap-2" @submit.prevent="record">
          <label class="grow">
            <span class="sr-only">{{ t('bench-reading-in', { unit }) }}</span>
            <input
              ref="field"
              v-model="entry"
              name="reading"
              class="field min-h-16 text-3xl"
              :class="draft.ask.value && 'border-wrong'"
              autocomplete="off"
              :placeholder="
                master.trim() ? t('bench-difference-from-the-standard', { unit }) : t('bench-reading-in', { unit })
              "
              :aria-invalid="draft.ask.value"
              @keydown.esc="leave"
            />
          </label>
          <button type="submit" class="key min-h-16" :disabled="!entry.trim()">
            {{ draft.ask.value ? t('bench-record-anyway') : t('bench-record') }}
          </button>
        </form>
        <p v-if="draft.ask.value" role="alert" class="said-wrong text-lg" data-test="asked">
          {{ draft.message.value }}
        </p>
        <div class="grid grid-cols-3 items-end gap-x-4 gap-y-1">
          <label class="col-span-3">
            <span class="label-text">{{ t('bench-tool') }}</span>
            <select v-model="gauge" class="line-field w-full" name="instrument">
              <option v-if="!tool" value="" disabled>{{ t('bench-choose-a-measuring-tool') }}</option>
              <option v-for="option in tools" :key="option.id" :value="option.id">
                {{ option.name }}, ±{{ smallFigure(option.accuracy, site.dimension)
                }}{{ option.fault ? t('bench-does-not-fit') : '' }}
              </option>
            </select>
          </label>
          <p v-if="tool && !tool.fault" class="col-span-3 -mt-0.5 text-[0.9375rem] text-dim">
            {{
              t('bench-resolution', {
                resolution: smallFigure(tool.resolution, site.dimension),
                time: tool.calibration_due
                  ? t('bench-calibrated-to', { time: day(tool.calibration_due) })
                  : t('common-no-calibration-date'),
              })
            }}
          </p>
          <p v-if="tool?.fault" class="col-span-3 font-semibold text-wrong" data-test="tool-fault">
            {{ t('bench-lead-approval-needed', { fault: sentence(tool.fault) }) }}
          </p>
          <label v-if="units.length > 1">
            <span class="label-text">{{ t('bench-unit') }}</span>
            <select v-model="unit" class="field mt-1" name="gauge-unit" :disabled="units.length < 2">
              <option v-for="u in units" :key="u.symbol">{{ u.symbol }}</option>
            </select>
          </label>
          <TextField
            v-if="isLength(site.dimension)"
            v-model="master"
            :label="t('bench-setting-standard', { unit })"
            name="master"
            :placeholder="t('common-none')"
          />
          <TextField
            v-if="isLength(site.dimension)"
            v-model="temperature"
            :label="t('bench-part-temperature-c')"
            name="temperature"
            inputmode="decimal"
            placeholder="20"
          />
        </div>
      </template>
      <template v-else-if="shells && graded">
        <p class="headline" data-test="site">{{ t('bench-choose-shells') }}</p>
        <p class="text-xl text-dim">{{ shells.name }}</p>
        <template v-if="graded.proposed">
          <p class="text-xl">
            {{ t('bench-proposed-the-pair-nearest-the-target') }}
          </p>
          <button
            v-focus
            class="key key-main min-h-16 text-2xl"
            :disabled="busy"
            data-test="take-proposal"
            @click="takeProposed"
          >
            {{ t('bench-use-proposed-shells') }}
          </button>
        </template>
        <p v-else class="text-xl font-semibold text-wrong">
          {{ t('bench-not-enough-shells-in-stock-for') }}
        </p>
        <ShellStock :view="graded" />
      </template>
      <p v-else class="headline" data-test="site">
        {{
          bench.issues.length
            ? t('bench-all-measured', { count: openIssues(bench.issues.length) })
            : t('bench-all-measured-2')
        }}
      </p>
      <div class="grid gap-1">
        <button class="quiet-key justify-self-start py-1" data-test="from-file" @click="fromFile = true">
          {{ t('bench-readings-from-a-file') }}
        </button>
        <ReadingList :readings="work.readings" />
      </div>
      <TableDialog v-if="fromFile" :work="work" @close="fromFile = false" />
    </section>
  </div>
</template>
