<script setup lang="ts">
// Measuring: the site in hand with its place drawn, the reading, and the clearances so far.
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { Refused, type Schemas } from '../api/client'
import { send, type Do } from '../api/outbox'
import { useShop } from '../api/queries'
import { gauge, lengthUnit, person } from '../ui/preferences'
import { length, unitsOf } from '../ui/units'
import ClearancePicture from './ClearancePicture.vue'
import ReadingList from './ReadingList.vue'
import SiteDrawing from './SiteDrawing.vue'

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
const asked = ref('')
const sending = ref(false)
const field = ref<HTMLInputElement>()
const chosen = ref<{ site: string; place: number } | null>(null)

const next = computed(() => (props.bench.step.kind === 'measure' ? props.bench.step : null))
/** The place the reading is for: one that was tapped, or the next empty one. */
const here = computed(() => chosen.value ?? (next.value ? { site: next.value.site, place: next.value.place } : null))
const site = computed(() => props.work.sites.find((s) => s.id === here.value?.site))
const gauges = computed(() => shop.value?.instruments.filter((i) => i.length_mm) ?? [])
const pictures = computed(() => [...new Set(props.work.clearances.map((c) => c.id))])

function focus() {
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

/** Sends the reading; what is unlikely is asked about and kept when Enter is pressed again. */
async function record() {
  const text = entry.value.trim()
  if (!here.value || !text || sending.value) return
  sending.value = true
  const warm = temperature.value.trim()
  try {
    await send(props.build, props.bench.seq, {
      type: 'measure',
      operation: props.bench.operation.id,
      site: here.value.site,
      place: here.value.place,
      text: master.value.trim() ? `${text} on ${master.value.trim()}` : text,
      unit: lengthUnit.value,
      temperature_c: warm ? Number(warm.replace(',', '.')) : null,
      sure: asked.value !== '',
      method: 'typed',
      instrument: gauge.value,
    })
    entry.value = ''
    asked.value = ''
    chosen.value = null
    emit('refused', '')
    emit('refresh')
  } catch (caught) {
    if (caught instanceof Refused && caught.is('ask')) asked.value = caught.message
    else emit('refused', caught instanceof Error ? caught.message : String(caught))
  } finally {
    sending.value = false
    focus()
  }
}

function select(id: string, place: number) {
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

// A reading that is being typed stays for its place, whatever another screen records meanwhile.
watch(entry, (now, before) => {
  asked.value = ''
  if (now && !before) chosen.value = here.value
})
watch(() => [props.bench.step, person.value, gauge.value, lengthUnit.value], focus)
onMounted(focus)
</script>

<template>
  <div class="mt-2 grid grow content-start gap-x-8 gap-y-4 lg:grid-cols-[minmax(0,1fr)_27rem]">
    <section class="order-2 grid min-w-0 content-start gap-5 lg:order-1">
      <ClearancePicture
        v-for="id in pictures"
        :key="id"
        :views="work.clearances.filter((c) => c.id === id)"
        :busy="busy"
        @choose="choose"
      />
      <table class="w-full text-left" data-test="sites">
        <caption class="sr-only">Readings by site</caption>
        <tbody>
          <tr v-for="s in work.sites" :key="s.id" class="border-b border-rule" :class="s.id === here?.site && 'font-semibold'">
            <th scope="row" class="py-0.5 pr-3 font-[inherit] whitespace-nowrap">{{ s.name }}</th>
            <td v-for="(place, at) in s.places" :key="at" class="py-0.5 pr-2">
              <button
                class="min-h-9 w-full border-b-2 px-1 text-left whitespace-nowrap"
                :class="s.id === here?.site && at === here?.place ? 'border-layout bg-layout/15' : 'border-transparent'"
                :aria-label="`${s.name} ${place.name}`"
                :data-test="`${s.id}/${at}`"
                @click="select(s.id, at)"
              >
                {{ place.value_mm == null ? '·' : length(place.value_mm) }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </section>

    <section class="order-1 flex flex-col gap-3 lg:order-2" aria-label="The reading in hand" aria-live="polite">
      <template v-if="site && here">
        <div>
          <p class="text-5xl leading-none font-semibold" data-test="site">{{ site.name }}</p>
          <p class="mt-2 text-4xl leading-none font-semibold text-layout" data-test="place">{{ site.places[here.place]?.name || 'once' }}</p>
        </div>
        <SiteDrawing :site="site" :at="here.place" />
        <p v-if="chosen && site.places[here.place]?.value_mm != null" class="text-dim">
          Measured again: both readings are kept, the last one counts.
          <button class="underline" @click="chosen = null">Back to the next</button>
        </p>
        <form class="flex gap-2" @submit.prevent="record">
          <label class="grow">
            <span class="sr-only">Reading in {{ lengthUnit }}</span>
            <input
              ref="field"
              v-model="entry"
              name="reading"
              class="field min-h-16 text-3xl"
              :class="asked && 'border-wrong'"
              autocomplete="off"
              :placeholder="`Reading in ${lengthUnit}`"
              :aria-invalid="!!asked"
              @keydown.esc="(entry = ''), (chosen = null)"
            />
          </label>
          <button type="submit" class="key min-h-16" :disabled="!entry.trim()">{{ asked ? 'Keep it' : 'Record' }}</button>
        </form>
        <p v-if="asked" role="alert" class="border-l-4 border-wrong pl-3 text-lg font-medium" data-test="asked">{{ asked }}</p>
        <div class="grid grid-cols-2 gap-x-4 gap-y-1">
          <label class="col-span-2">
            <span class="label-text">With</span>
            <select v-model="gauge" class="min-h-10 w-full border-b border-ink bg-transparent" name="instrument">
              <option v-for="i in gauges" :key="i.id" :value="i.id">{{ i.name }}, ±{{ length(i.accuracy_mm ?? 0) }}</option>
            </select>
          </label>
          <label>
            <span class="label-text">Reads in</span>
            <select v-model="lengthUnit" class="min-h-10 w-full border-b border-ink bg-transparent" name="length-unit">
              <option v-for="u in unitsOf('length')" :key="u.symbol">{{ u.symbol }}</option>
            </select>
          </label>
          <label>
            <span class="label-text">Set master, {{ lengthUnit }}</span>
            <input v-model="master" name="master" class="min-h-10 w-full border-b border-ink bg-transparent" placeholder="none" autocomplete="off" />
          </label>
          <label>
            <span class="label-text">Part at, °C</span>
            <input v-model="temperature" name="temperature" inputmode="decimal" class="min-h-10 w-full border-b border-ink bg-transparent" placeholder="20" autocomplete="off" />
          </label>
        </div>
      </template>
      <p v-else class="text-5xl leading-tight font-semibold" data-test="site">
        {{ bench.matters.length ? 'All measured, not all right' : 'All measured' }}
      </p>
      <ReadingList :readings="work.readings" :act="act" />
    </section>
  </div>
</template>
