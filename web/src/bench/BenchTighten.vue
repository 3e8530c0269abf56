<script setup lang="ts">
// A joint at the bench: the map, the pull in hand, what is next, the last pulls.
import { v7 } from 'uuid'
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import type { Live } from '../api/live'
import type { Do } from '../api/outbox'
import { useShop } from '../api/queries'
import { vFocus } from '../ui/focus'
import { instrument, person, torqueUnit } from '../ui/preferences'
import { playVerdict } from '../ui/sound'
import { figure, torque } from '../ui/units'
import AngleDial from './AngleDial.vue'
import FastenerMap from './FastenerMap.vue'
import PullList from './PullList.vue'
import ReadingScale from './ReadingScale.vue'
import WhyThis from './WhyThis.vue'

type Step = Schemas['Step']
const props = defineProps<{
  bench: Schemas['Bench']
  work: Schemas['TightenBench']
  build: string
  live: Live | null
  busy: boolean
  act: (what: Do, seen?: number) => Promise<boolean>
}>()
const emit = defineEmits<{ refused: [message: string]; refresh: [] }>()

const { data: shop } = useShop()
const entry = ref('')
const field = ref<HTMLInputElement>()
const pulls = ref<InstanceType<typeof PullList>>()
const selected = ref<string | null>(null)
const why = ref(false)
const pulling = ref(false)

const pull = computed(() => (props.bench.step.kind === 'pull' ? props.bench.step : null))
const action = computed(() => (props.bench.step.kind === 'act' ? props.bench.step : null))
/** What a reading that is being typed is for: it stays that, whatever another screen records meanwhile. */
const held = ref<{ stage: number; fastener: string; seen: number } | null>(null)
/** The fastener the reading is for: the next one, or another that was tapped on the map. */
const fastener = computed(() => held.value?.fastener ?? selected.value ?? pull.value?.fastener ?? '')
const off = computed(() => !!pull.value && fastener.value !== pull.value.fastener)
const still = computed(() => (pull.value ? pull.value.band.target - (pull.value.angle && !off.value ? pull.value.so_far : 0) : 0))
const shown = computed(() =>
  props.live && pull.value ? (pull.value.angle ? props.live.angle_deg + pull.value.so_far : props.live.torque_nm) : null,
)
const digits = computed(() => {
  if (!pull.value) return ''
  const value = shown.value ?? (pull.value.angle ? still.value : pull.value.band.target)
  return pull.value.angle ? String(Math.round(value)) : torque(value)
})
/** Instruments for the stage in hand, and the one that is chosen even where it does not suit. */
const tools = computed(() => {
  const fit = (id: string) => props.work.tools.find((t) => t.id === id)
  return (shop.value?.instruments ?? [])
    .filter((i) => fit(i.id) || i.id === instrument.value)
    .map((i) => ({ ...i, fault: fit(i.id) ? fit(i.id)?.fault : `${i.name} measures no ${pull.value?.angle ? 'angle' : 'torque'}` }))
})
const tool = computed(() => tools.value.find((i) => i.id === instrument.value))
const stage = computed(() => props.work.stages.find((s) => s.state === 'now'))
const last = computed(() => props.work.pulls.find((p) => !p.voided))
const verdicts = { good: 'Good', low: 'Low: pull on', over: 'Over' } as const

const line = (step: Step): string => {
  if (step.kind === 'pull') return `${step.number}, ${step.group} ${step.fastener}, ${figure(step.band.target, step.angle)}`
  return step.kind === 'act' ? step.name : 'Sign'
}

async function record() {
  const text = entry.value.trim()
  if (!pull.value || !text) return
  const target = held.value ?? { stage: pull.value.stage, fastener: fastener.value, seen: props.bench.seq }
  const what: Do = {
    type: 'pull',
    operation: props.bench.operation.id,
    stage: target.stage,
    fastener: target.fastener,
    reading: { text, unit: props.work.stages[target.stage]?.angle ? '°' : torqueUnit.value },
    method: 'typed',
    instrument: instrument.value,
  }
  if (await props.act(what, target.seen)) {
    entry.value = ''
    selected.value = null
  } else if (held.value) {
    // It was said what came in between: sending it again is meant.
    held.value.seen = props.bench.seq
  }
  focus()
}

async function simulate() {
  if (!pull.value || pulling.value || props.busy) return
  pulling.value = true
  try {
    const body = { id: v7(), seen: props.bench.seq, operation: props.bench.operation.id, instrument: 'rig-wrench' }
    take(await api.POST('/api/builds/{build}/rig/pull', { params: { path: { build: props.build } }, body }))
    selected.value = null
    emit('refresh')
  } catch (caught) {
    emit('refused', caught instanceof Refused ? caught.message : 'The simulated wrench does not answer')
  } finally {
    pulling.value = false
    focus()
  }
}

const acted = () =>
  action.value && props.act({ type: 'act', operation: props.bench.operation.id, stage: action.value.stage })

function focus() {
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

function select(id: string) {
  held.value = null
  selected.value = id === pull.value?.fastener || id === selected.value ? null : id
  focus()
}

watch(entry, (now, before) => {
  if (!now) held.value = null
  else if (!before && pull.value) held.value = { stage: pull.value.stage, fastener: fastener.value, seen: props.bench.seq }
})
watch(
  () => last.value?.seq,
  (now, before) => {
    if (last.value && now && before !== undefined && now > before) playVerdict(last.value.verdict)
  },
)
watch(() => [props.bench.step, person.value, torqueUnit.value, instrument.value], focus)

function onKey(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const target = event.target as HTMLElement
  if (target.closest('select, [role=dialog]') || (target instanceof HTMLInputElement && target !== field.value)) return
  if (event.key === 'Enter' && action.value && !target.closest('button, a')) void acted()
  if (entry.value) return
  const keys: Record<string, () => void> = {
    w: () => void simulate(),
    y: () => (why.value = !why.value),
    v: () => pulls.value?.voidLast(),
  }
  const run = keys[event.key.toLowerCase()]
  if (run) {
    event.preventDefault()
    run()
  }
}
window.addEventListener('keydown', onKey)
onMounted(focus)
onUnmounted(() => window.removeEventListener('keydown', onKey))
</script>

<template>
  <div class="mt-2 grid grow content-start gap-x-8 gap-y-3 lg:grid-cols-[minmax(0,1fr)_27rem]">
    <section class="order-2 flex min-w-0 flex-col gap-3 lg:order-1">
      <div class="w-full">
        <FastenerMap :drawing="work.drawing" :fasteners="work.fasteners" :selected="selected" @select="select" />
      </div>
      <ol class="flex flex-wrap gap-x-6 gap-y-1 border-y border-rule py-2" aria-label="Stages">
        <li
          v-for="(s, at) in work.stages"
          :key="at"
          class="flex items-baseline gap-2"
          :class="s.state === 'now' ? 'font-semibold' : 'text-dim'"
          :aria-current="s.state === 'now' ? 'step' : undefined"
        >
          <span class="h-3 w-1.5 -rotate-45 self-center" :class="s.state === 'done' ? 'bg-paint' : s.state === 'now' ? 'bg-layout' : 'border border-rule'" />
          {{ s.band ? `${s.name} ${figure(s.band.target, s.angle)}` : s.name }}
          <span v-if="s.band">{{ s.done }}/{{ s.total }}</span>
        </li>
      </ol>
      <PullList ref="pulls" :pulls="work.pulls" :count="work.pull_count" :act="act" />
    </section>

    <section class="order-1 flex flex-col gap-2.5 lg:order-2" aria-label="The pull in hand" aria-live="polite">
      <template v-if="pull">
        <div class="flex items-end justify-between gap-4">
          <div>
            <p class="text-xl text-dim">Pull {{ off ? '' : pull.number }} {{ pull.group }}</p>
            <p class="text-[5.5rem] leading-[0.9] font-semibold" data-test="fastener">{{ fastener }}</p>
          </div>
          <div class="text-right">
            <p class="text-xl text-dim">{{ stage?.name }}, {{ pull.angle ? (pull.so_far > 0 && !off ? 'on by' : 'turn by') : 'to' }}</p>
            <p class="font-semibold whitespace-nowrap text-layout" data-test="target">
              <span class="text-[5.5rem] leading-[0.9]">{{ digits }}</span>
              <span class="text-4xl" :class="!pull.angle && 'ml-2'">{{ pull.angle ? '°' : torqueUnit }}</span>
            </p>
          </div>
        </div>
        <p v-if="off" class="font-medium text-wrong">{{ pull.fastener }} is next. A pull on {{ fastener }} is kept as out of order.</p>
        <div class="flex items-baseline justify-between gap-4">
          <p v-if="last" :class="last.verdict === 'over' && 'text-wrong'" data-test="verdict">
            <span class="text-dim">{{ last.fastener }} {{ figure(last.value, last.angle) }}</span>
            <span class="ml-3 text-3xl font-semibold">
              <span v-if="last.verdict === 'good'" class="mr-1.5 inline-block h-6 w-1.5 rotate-[30deg] bg-paint align-middle" aria-hidden="true" />
              <span v-else-if="last.verdict === 'over'" aria-hidden="true">▲ </span>
              <span v-else aria-hidden="true">▽ </span>
              {{ verdicts[last.verdict] }}
            </span>
          </p>
          <p class="ml-auto text-xl whitespace-nowrap text-dim">{{ figure(pull.band.low, pull.angle) }} to {{ figure(pull.band.high, pull.angle) }}</p>
        </div>
        <ReadingScale :low="pull.band.low" :high="pull.band.high" :target="pull.band.target" :value="shown" />
        <AngleDial v-if="pull.angle" :angle="still" :live="live?.angle_deg ?? null" />
        <form class="flex gap-2" @submit.prevent="record">
          <label class="grow">
            <span class="sr-only">Reading for {{ fastener }}</span>
            <input
              ref="field"
              v-model="entry"
              name="reading"
              class="field min-h-14 text-2xl"
              inputmode="decimal"
              autocomplete="off"
              :placeholder="pull.angle ? 'Angle read, then Enter' : 'Torque read, then Enter'"
              @keydown.esc="entry = ''"
            />
          </label>
          <button type="submit" class="key min-h-14" :disabled="busy || !entry.trim()">Record</button>
        </form>
        <button class="key key-main min-h-14 text-xl" :disabled="busy || pulling || off" data-test="simulate" @click="simulate">
          {{ pulling ? 'Pulling…' : 'Pull with the simulated wrench' }}
        </button>
        <label class="-mt-1 flex items-center gap-2">
          <span class="label-text shrink-0">Typed from</span>
          <select v-model="instrument" class="min-h-10 grow border-b border-ink bg-transparent" name="instrument">
            <option v-for="i in tools" :key="i.id" :value="i.id">{{ i.name }}{{ i.fault ? ' (does not fit)' : '' }}</option>
          </select>
        </label>
        <p v-if="tool?.fault" class="font-medium text-wrong" data-test="tool-fault">
          ▲ {{ tool.fault.charAt(0).toUpperCase() + tool.fault.slice(1) }}: what is typed from it is kept as a deviation.
        </p>
      </template>
      <template v-else-if="action">
        <p class="text-xl text-dim">Before the next stage</p>
        <p class="text-5xl leading-tight font-semibold">{{ action.name }}</p>
        <p class="text-2xl">{{ action.text }}</p>
        <button class="key key-main min-h-20 text-3xl" :disabled="busy" v-focus data-test="acted" @click="acted">Done</button>
      </template>
      <template v-else>
        <p class="text-5xl leading-tight font-semibold">{{ bench.matters.length ? 'All pulled, not all right' : 'All pulled' }}</p>
        <p v-if="last" class="text-xl text-dim" data-test="verdict">Last: {{ last.fastener }}, {{ figure(last.value, last.angle) }}, {{ verdicts[last.verdict] }}</p>
      </template>
      <p v-if="bench.step.kind !== 'sign'" class="text-xl">
        <span class="text-dim">Then</span> {{ line(bench.then) }}
      </p>
      <WhyThis v-if="work.why" v-model:open="why" :why="work.why" :band="stage?.band ?? null" :angle="!!stage?.angle" />
    </section>
  </div>
</template>
