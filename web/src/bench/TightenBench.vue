<script setup lang="ts">
// A joint at the bench: the map, the pull in hand, what is next, the last pulls.
import { useEventListener } from '@vueuse/core'
import { v7 } from 'uuid'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { vFocus } from '../ui/focus'
import { torqueUnit, wrench } from '../ui/preferences'
import { playVerdict } from '../ui/sound'
import { digits, figure, unitOf } from '../ui/units'
import AngleDial from './AngleDial.vue'
import type { WorkOf } from './benches'
import FastenerMap from './FastenerMap.vue'
import { useHand } from './hand'
import PullList from './PullList.vue'
import ReadingScale from './ReadingScale.vue'
import StageLine from './StageLine.vue'
import { useEntry } from './useEntry'
import WhyThis from './WhyThis.vue'

/** What a reading is for. */
interface Aim {
  stage: number
  fastener: string
}

const props = defineProps<{ work: WorkOf<'tighten'> }>()
const { build, bench, live, busy, said, asks, act, refresh } = useHand()
const field = ref<HTMLInputElement>()
const pulls = ref<InstanceType<typeof PullList>>()
/** A fastener that was tapped instead of the next one. */
const selected = ref<string | null>(null)
const why = ref(false)
const pulling = ref(false)

const pull = computed(() => (bench.value.step.kind === 'pull' ? bench.value.step : null))
const action = computed(() => (bench.value.step.kind === 'act' ? bench.value.step : null))
const draft = useEntry<string, Aim>({
  place: () => `${build.value}/${bench.value.operation.id}`,
  target: () => pull.value && { stage: pull.value.stage, fastener: selected.value ?? pull.value.fastener },
  seen: () => bench.value.seq,
  empty: () => '',
})
const entry = draft.value
/** The fastener the reading is for: the next one, or another that was tapped on the map. */
const fastener = computed(() => draft.target.value?.fastener ?? '')
const off = computed(() => !!pull.value && fastener.value !== pull.value.fastener)
const target = computed(() => {
  if (!pull.value) return null
  return off.value ? (props.work.stages[pull.value.stage]?.target ?? null) : pull.value.target
})
const dimension = computed(() => target.value?.dimension ?? 'torque')

/** The tools of the stage in hand; one that does not suit only where it was chosen. */
const tools = computed(() => props.work.tools.filter((t) => t.suits || t.id === wrench.value))
const tool = computed(() => tools.value.find((t) => t.id === wrench.value) ?? tools.value[0])
const chosen = computed({
  get: () => tool.value?.id ?? '',
  set: (id: string) => (wrench.value = id),
})
/** The setting of the wrench in hand, where it shows no figure and clicks. */
const click = computed(() => (dimension.value === 'torque' && tool.value?.click) || null)
const simulated = computed(() => props.work.tools.find((t) => t.simulated && t.suits))
const last = computed(() => props.work.pulls.find((p) => !p.voided))
/** A key that bounces, or was meant for the operation or stage before, says nothing about the wrench. */
const BOUNCE_MS = 400
const ARRIVED_MS = 800
let quietUntil = Date.now() + ARRIVED_MS
const verdicts = { good: 'Good', low: 'Low: pull on', over: 'Over' } as const

function line(step: Schemas['Step']): string {
  if (step.kind === 'act') return step.name
  if (step.kind !== 'pull') return 'Sign'
  return `${step.number}, ${step.group} ${step.fastener}, ${figure(step.target.shown, step.target.dimension)}`
}

async function record() {
  const text = entry.value.trim()
  const typed = draft.hold()
  if (!typed || !text || busy.value) return
  const aim = typed.target
  const kind = props.work.stages[aim.stage]?.target?.dimension ?? 'torque'
  const recorded = await act(
    {
      type: 'pull',
      operation: bench.value.operation.id,
      stage: aim.stage,
      fastener: aim.fastener,
      reading: { text, unit: unitOf(kind) },
      method: 'typed',
      instrument: chosen.value,
      sure: typed.ask,
    },
    typed.seen,
  )
  if (recorded) {
    selected.value = null
    typed.done()
  } else {
    typed.failed(said.value, asks.value)
    // What is asked is said at the field.
    if (asks.value) said.value = ''
  }
  focus()
}

/** Somebody says that the wrench is set, or that it clicked. */
async function heard() {
  if (!pull.value || !target.value || !click.value || entry.value.trim() || busy.value) return
  if (Date.now() < quietUntil) return
  const [operation, instrument] = [bench.value.operation.id, chosen.value]
  const said = (figure: number) => ({ text: String(figure), unit: 'N·m' })
  const told = click.value.is_set
    ? await act({
        type: 'pull',
        operation,
        stage: pull.value.stage,
        fastener: fastener.value,
        reading: said(click.value.set_to_nm ?? 0),
        method: 'clicked',
        instrument,
      })
    : await act({ type: 'set-wrench', operation, instrument, ...said(target.value.shown) })
  quietUntil = Date.now() + BOUNCE_MS
  if (told) selected.value = null
  focus()
}

async function simulate() {
  if (!pull.value || !simulated.value || pulling.value || busy.value) return
  pulling.value = true
  try {
    const body = { id: v7(), seen: bench.value.seq, operation: bench.value.operation.id, instrument: simulated.value.id }
    take(await api.POST('/api/builds/{build}/rig/pull', { params: { path: { build: build.value } }, body }))
    selected.value = null
    await refresh()
  } catch (caught) {
    said.value = caught instanceof Refused ? caught.message : 'The simulated wrench does not answer'
  } finally {
    pulling.value = false
    focus()
  }
}

const acted = () =>
  action.value && act({ type: 'act', operation: bench.value.operation.id, stage: action.value.stage })

const placeholder = computed(() => {
  if (click.value) return click.value.is_set ? 'Enter: it clicked' : 'Enter: it is set'
  return dimension.value === 'angle' ? 'Angle, then Enter' : 'Torque, then Enter'
})

function enter(event: KeyboardEvent) {
  if (entry.value.trim()) return
  event.preventDefault()
  if (!event.repeat) void heard()
}

function focus() {
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

function select(id: string) {
  selected.value = id === pull.value?.fastener || id === selected.value ? null : id
  if (pull.value) draft.aim({ stage: pull.value.stage, fastener: selected.value ?? pull.value.fastener })
  focus()
}

watch(
  () => last.value?.seq,
  (now, before) => {
    if (last.value && now && before !== undefined && now > before) playVerdict(last.value.verdict)
  },
)
watch(
  () => [pull.value?.stage, chosen.value],
  () => (quietUntil = Date.now() + ARRIVED_MS),
)
watch(() => [bench.value.step, torqueUnit.value, chosen.value], focus)
onMounted(focus)

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const at = event.target as HTMLElement
  if (at.closest('select, [role=dialog]') || (at instanceof HTMLInputElement && at !== field.value)) return
  if (event.key === 'Enter' && action.value && !at.closest('button, a')) void acted()
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
})
</script>

<template>
  <p v-if="bench.operation.status === 'waiting'" class="text-lg">What is pulled now is recorded as a deviation.</p>
  <div class="bench">
    <section class="bench-side flex flex-col gap-3">
      <FastenerMap :drawing="work.drawing" :fasteners="work.fasteners" :selected="selected" @select="select" />
      <StageLine :stages="work.stages" />
      <PullList ref="pulls" :pulls="work.pulls" :count="work.pull_count" />
    </section>

    <section class="bench-hand gap-2.5" aria-label="The pull in hand" aria-live="polite">
      <template v-if="pull && target">
        <div class="flex items-end justify-between gap-4">
          <div>
            <p class="text-xl text-dim">Pull {{ off ? '' : pull.number }} {{ pull.group }}</p>
            <p class="far" data-test="fastener">{{ fastener }}</p>
          </div>
          <div class="text-right">
            <p class="text-xl text-dim">
              {{ work.stages[pull.stage]?.name }}, {{ dimension === 'angle' ? (target.so_far > 0 ? 'on by' : 'turn by') : 'to' }}
            </p>
            <p class="font-semibold whitespace-nowrap text-layout" data-test="target">
              <span class="far">{{ digits(live ? live.value : target.shown, dimension) }}</span>
              <span class="text-4xl" :class="dimension !== 'angle' && 'ml-2'">{{ unitOf(dimension) }}</span>
            </p>
          </div>
        </div>
        <p v-if="off" class="font-medium text-wrong">{{ pull.fastener }} is next. A pull on {{ fastener }} is kept as out of order.</p>
        <div class="flex items-baseline justify-between gap-4">
          <p v-if="last" :class="last.verdict === 'over' && 'text-wrong'" data-test="verdict">
            <span class="text-dim">{{ last.fastener }} {{ figure(last.value, last.dimension) }}</span>
            <span class="ml-3 inline-block text-3xl font-semibold whitespace-nowrap">
              <span v-if="last.verdict === 'good'" class="paint-stroke" aria-hidden="true" />
              <span v-else aria-hidden="true">{{ last.verdict === 'over' ? '▲ ' : '▽ ' }}</span>
              {{ verdicts[last.verdict] }}
            </span>
          </p>
          <p class="ml-auto text-xl whitespace-nowrap text-dim">{{ figure(target.low, dimension) }} to {{ figure(target.high, dimension) }}</p>
        </div>
        <ReadingScale :target="target" :live="live" />
        <AngleDial v-if="dimension === 'angle'" :angle="target.shown" :live="live ? live.value - target.so_far : null" />
        <form class="flex gap-2" @submit.prevent="record">
          <label class="grow">
            <span class="sr-only">Reading for {{ fastener }}</span>
            <input
              ref="field"
              v-model="entry"
              name="reading"
              class="field min-h-14 text-2xl"
              :class="draft.ask.value && 'border-wrong'"
              :aria-invalid="draft.ask.value"
              inputmode="decimal"
              autocomplete="off"
              :readonly="busy"
              :placeholder="placeholder"
              @keydown.esc="draft.clear()"
              @keydown.enter="enter"
            />
          </label>
          <button type="submit" class="key min-h-14" :disabled="busy || !entry.trim()">{{ draft.ask.value ? 'Keep it' : 'Record' }}</button>
        </form>
        <p v-if="draft.ask.value" role="alert" class="said-wrong text-lg" data-test="asked">{{ draft.message.value }}</p>
        <template v-if="click">
          <p v-if="!click.is_set" class="text-xl" data-test="set-first">
            Set {{ tool?.name }} to <span class="font-semibold">{{ figure(target.shown, 'torque') }}</span>
            <span v-if="click.set_to_nm" class="text-dim">, it is at {{ figure(click.set_to_nm, 'torque') }}</span>
          </p>
          <button class="key key-main min-h-16 text-2xl" :disabled="busy || !!entry.trim()" data-test="heard" @click="heard">
            {{ click.is_set ? 'It clicked' : 'It is set' }}
          </button>
        </template>
        <label class="-mt-1 flex items-center gap-2">
          <span class="label-text shrink-0">With</span>
          <select v-model="chosen" class="line-field grow" name="instrument">
            <option v-for="t in tools" :key="t.id" :value="t.id">{{ t.name }}{{ t.fault ? ' (does not fit)' : '' }}</option>
          </select>
        </label>
        <button v-if="simulated" class="quiet-key self-start py-1" :disabled="busy || pulling || off" data-test="simulate" @click="simulate">
          {{ pulling ? 'Pulling…' : 'Let the simulated wrench pull' }}
        </button>
        <p v-if="tool?.fault" class="font-medium text-wrong" data-test="tool-fault">
          ▲ {{ tool.fault.charAt(0).toUpperCase() + tool.fault.slice(1) }}: what is typed from it is kept as a deviation.
        </p>
      </template>
      <template v-else-if="action">
        <p class="text-xl text-dim">Before the next stage</p>
        <p class="headline">{{ action.name }}</p>
        <p class="text-2xl">{{ action.text }}</p>
        <button v-focus class="key key-main min-h-20 text-3xl" :disabled="busy" data-test="acted" @click="acted">Done</button>
      </template>
      <template v-else>
        <p class="headline">{{ bench.matters.length ? 'All pulled, not all right' : 'All pulled' }}</p>
        <p v-if="last" class="text-xl text-dim" data-test="verdict">
          Last: {{ last.fastener }}, {{ figure(last.value, last.dimension) }}, {{ verdicts[last.verdict] }}
        </p>
      </template>
      <p v-if="bench.step.kind !== 'sign'" class="text-xl"><span class="text-dim">Then</span> {{ line(bench.then) }}</p>
      <WhyThis v-if="work.why" v-model:open="why" :why="work.why" :target="target" />
    </section>
  </div>
</template>
