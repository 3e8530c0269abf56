<script setup lang="ts">
// The pull in hand: what to give to which fastener with what, and saying what came of it.
import { v7 } from 'uuid'
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import type { Do } from '../api/outbox'
import { takesKeys } from '../ui/focus'
import { chosenTools, gauges, person, pressGap, torqueUnit, wrench } from '../ui/preferences'
import { digits, figure, isLength, sentence, unitOf } from '../ui/units'
import AngleDial from './AngleDial.vue'
import type { WorkOf } from './benches'
import { letGo, useHand } from './hand'
import ReadingScale from './ReadingScale.vue'
import SlotHelp from './SlotHelp.vue'
import { useEntry } from './useEntry'

/** What a reading is for. */
interface Aim {
  joint: string
  stage: number
  fastener: string
  dimension: Schemas['Dimension']
}

const props = defineProps<{
  step: Schemas['PullStep']
  work: WorkOf<'tighten'>
  joint: Schemas['JointView']
  last: Schemas['PullView'] | undefined
}>()
/** A fastener that was tapped instead of the next one. */
const selected = defineModel<string | null>('selected', { required: true })
const { build, bench, live, busy, slow, said, asks: asked, act, refresh } = useHand()
const field = ref<HTMLInputElement>()
const pulling = ref(false)
/** What a gauge on the bar shows before the turn, and the torque a wrench shows after it. */
const start = ref('')
const down = ref(false)
const torque = ref('')
/** What the builder says of the pull in hand: it was stopped and went on from rest. */
const stopped = ref(false)
/** What was said on one key and asked about. */
const unsure = ref<{ what: Do; message: string } | null>(null)

const off = computed(() => !!selected.value || !props.joint.in_hand)
const planned = computed(() => props.joint.stages.find((s) => s.stage === props.step.stage))
const asks = computed(() => (off.value ? (planned.value?.asks ?? props.step.asks) : props.step.asks))
/** What is next by the last answer, drawn or not. */
function next(): Aim | null {
  const { step } = bench.value
  if (step.kind !== 'pull') return null
  if (off.value) {
    return {
      joint: props.joint.id,
      stage: step.stage,
      fastener: selected.value ?? step.fastener,
      dimension: asks.value.dimension,
    }
  }
  return { joint: step.joint, stage: step.stage, fastener: step.fastener, dimension: step.asks.dimension }
}
const draft = useEntry<string, Aim>({
  // What is typed for one question is not there for the next: a slot is no torque.
  place: () => `${build.value}/${bench.value.operation.id}/${asks.value.dimension}`,
  target: next,
  seen: () => bench.value.seq,
  empty: () => '',
})
const entry = draft.value
/** What is on its way to be recorded, and when Enter came meanwhile for what was typed behind it. */
const sent = ref('')
let behind: number | null = null
/** What is in the field: once what was sent takes long, only what was typed behind it. */
const shown = computed({
  get: () => (slow.value && entry.value.startsWith(sent.value) ? entry.value.slice(sent.value.length) : entry.value),
  set: (text: string) => (entry.value = slow.value ? sent.value + text : text),
})
/** The fastener the reading is for: the next one, or another that was tapped on the map. */
const fastener = computed(() => draft.target.value?.fastener ?? '')
/** What the reading is for where something else is next by now: somebody pulled that at another screen. */
const before = computed(() => {
  const [of, now] = [draft.target.value, next()]
  if (
    !entry.value ||
    busy.value ||
    !of ||
    !now ||
    (of.fastener === now.fastener && of.stage === now.stage && of.joint === now.joint)
  )
    return null
  const { name } = props.joint.stages.find((s) => of.joint === props.joint.id && s.stage === of.stage) ?? {}
  return { what: name ? `${of.fastener}, ${name}` : of.fastener, now: now.fastener }
})
const mark = computed(() => props.joint.fasteners.find((f) => f.id === fastener.value))
/** Whether the fastener that was tapped has had what it may have only once (C-11). */
const had = computed(
  () => off.value && planned.value?.once && mark.value?.strokes.some((s) => s.stage === planned.value?.stage),
)
/** Where its painted line stands: where its finished stages left it, and what was turned in this one (C-65). */
const line = computed(() => (mark.value?.strokes.at(-1)?.at_deg ?? 0) + (off.value ? 0 : target.value.so_far))

/** The tools of the stage in hand, by what the fastener is reached with. */
const reached = computed(() => {
  const by = mark.value?.adapter ?? null
  return props.work.tools.find((ways) => (ways.adapter ?? null) === by) ?? props.work.tools[0]
})
/** A bolt is pulled with one and measured with another: each is chosen for itself. */
const STRETCH = 'stretch'
const measures = computed(() => isLength(asks.value.dimension))
const own = computed(() => (measures.value ? (gauges.value[STRETCH] ?? '') : wrench.value))
/** Where a tool was chosen by hand: it stays chosen for this operation, whatever is said of it. */
const here = computed(() => `${person.value} ${build.value} ${bench.value.operation.id} ${asks.value.dimension}`)
const tools = computed(() => (reached.value?.tools ?? []).filter((t) => t.suits))
/** What cannot do the job is used only where it was chosen here. */
const tool = computed(
  () =>
    tools.value.find((t) => t.id === chosenTools.value[here.value]) ??
    tools.value.find((t) => t.id === own.value && !t.fault) ??
    tools.value.find((t) => !t.fault),
)
const chosen = computed({
  get: () => tool.value?.id ?? '',
  set: (id: string) => {
    chosenTools.value = { ...chosenTools.value, [here.value]: id }
    if (measures.value) gauges.value = { ...gauges.value, [STRETCH]: id }
    else wrench.value = id
  },
})
const target = computed(() => {
  const own = tool.value?.target
  if (!off.value) return own ?? props.step.target
  // What another fastener has already is not known here.
  return own && own.dimension === 'torque' ? own : (planned.value?.target ?? props.step.target)
})
const scale = computed(() => target.value.unit)
const unit = computed(() => scale.value || unitOf(target.value.dimension))
const click = computed(() => tool.value?.click ?? null)
const simulated = computed(() => reached.value?.tools.find((t) => t.nature === 'stand-in' && t.suits))
const turns = computed(
  () => asks.value.dimension === 'angle' && target.value.dimension === 'angle' && !!asks.value.head,
)

/** Why a climb goes no further than it may. */
function whyMost(climb: Schemas['ClimbView']): string {
  const by = climb.nut_factor == null ? '' : ' by its own friction'
  const share = `${Math.round(climb.utilisation * 100)} % of its yield${by}`
  if (climb.most_nm == null) return share
  return climb.limit_nm < climb.most_nm - 0.05
    ? `${share}; the plan says ${figure(climb.most_nm, 'torque', scale.value)}`
    : 'as the plan says'
}

/** A key that bounces, or was meant for the operation or stage before, says nothing about the wrench. */
const bounceMs = () => pressGap.value
const ARRIVED_MS = 800
const listens = ref(false)
let timer: number | undefined
/** Does not listen to the large key for a while. */
function hush(ms: number) {
  listens.value = false
  window.clearTimeout(timer)
  timer = window.setTimeout(() => (listens.value = true), ms)
}
hush(ARRIVED_MS)
onUnmounted(() => window.clearTimeout(timer))

/** What one key says; without a figure it is that the target is reached. */
interface Answer {
  words: string
  does: 'set' | 'clicked' | 'seen'
  figure?: number
}
const seen = (plain: Schemas['Plain']): Answer => ({ ...plain, does: 'seen' })
/** What the large key says: the wrench is set, it clicked, or what can be told without a figure. */
const key = computed<Answer | null>(() => {
  if (click.value && !click.value.is_set) return { words: 'It is set', does: 'set', figure: target.value.shown }
  const plain = asks.value.plain[0]
  if (plain) return seen(plain)
  if (click.value) return { words: 'It clicked', does: 'clicked', figure: click.value.set_to_nm ?? 0 }
  if (tool.value?.nature === 'hand-and-eye' && asks.value.by_eye) return { words: asks.value.by_eye, does: 'seen' }
  return null
})
const others = computed(() => (key.value?.does === 'set' ? [] : asks.value.plain.slice(1).map(seen)))

function pulled(
  aim: Aim,
  reading: Schemas['Given'],
  method: Schemas['Method'],
  sure = false,
  note: Schemas['PullNote'] | null = stopped.value ? 'stopped' : null,
): Do {
  const { joint, stage, fastener: id } = aim
  return {
    type: 'pull',
    operation: bench.value.operation.id,
    joint,
    stage,
    fastener: id,
    reading,
    method,
    instrument: chosen.value,
    sure,
    note,
  }
}

function clear() {
  stopped.value = false
  start.value = ''
  torque.value = ''
  unsure.value = null
}

/** Records what is typed; `since` is when Enter came for it, where that was before. */
async function record(since?: number) {
  const text = entry.value.trim()
  // A key that bounces has nothing typed behind what it sent.
  if (busy.value) behind = sent.value && text !== sent.value.trim() ? (behind ?? performance.now()) : null
  if (!text || busy.value || (draft.ask.value && !listens.value)) return
  if (!tool.value) {
    said.value = 'Choose the tool that it was pulled with. The figure is kept in its field.'
    return
  }
  const typed = draft.hold()
  if (!typed) return
  const angle = typed.target.dimension === 'angle'
  const from = Number(start.value.replace(',', '.'))
  if (turns.value && start.value.trim() && !Number.isFinite(from)) {
    said.value = `The reading before the turn, ${start.value}, is no number of degrees`
    return
  }
  const reading: Schemas['Given'] = {
    text,
    unit: typed.target.dimension === 'torque' ? unit.value : unitOf(typed.target.dimension),
    ...(angle && turns.value && start.value.trim() ? { start_deg: from, counts_down: down.value } : {}),
    ...(angle && torque.value.trim() ? { torque_text: torque.value, torque_unit: torqueUnit.value } : {}),
  }
  const recorded = letGo(selected, null)
  sent.value = typed.value
  behind = null
  const done = await act(pulled(typed.target, reading, 'typed', typed.ask), typed.seen, since)
  sent.value = ''
  if (done) {
    recorded()
    clear()
    typed.done()
    // What went wrong is seen before anything else is recorded.
    const { work } = bench.value
    if (behind !== null && !('pulls' in work && work.pulls[0]?.wrong)) return record(behind)
  } else {
    const more = entry.value.startsWith(typed.value) ? entry.value.slice(typed.value.length).trim() : ''
    if (more) said.value = `${said.value} Typed behind it and not recorded either: ${more}.`
    typed.failed(said.value, asked.value)
    // What is asked is said at the field.
    if (asked.value) said.value = ''
    hush(bounceMs())
  }
  focus()
}

/** Somebody says on one key that the wrench is set, or what came of the pull. */
async function heard(answer = key.value, note?: Schemas['PullNote']) {
  if (!answer || entry.value.trim() || busy.value || !listens.value) return
  if (!tool.value) {
    said.value = 'Choose the tool that it was pulled with.'
    return
  }
  const [operation, instrument] = [bench.value.operation.id, chosen.value]
  // A setting and a click are told in N·m, whatever is shown; what is seen has a unit of its own.
  const unit = answer.does === 'seen' ? unitOf(asks.value.dimension) : 'N·m'
  const given = answer.figure === undefined ? {} : { text: String(answer.figure), unit }
  const { does } = answer
  const aim = next()
  if (!aim) return
  await tell(
    does === 'set'
      ? { type: 'set-wrench', operation, instrument, text: String(answer.figure), unit }
      : pulled(aim, given, does, false, note),
  )
}

async function tell(what: Do) {
  if (busy.value) return
  unsure.value = null
  hush(bounceMs())
  const recorded = letGo(selected, null)
  if (await act(what)) {
    recorded()
    clear()
    // What was typed meanwhile is for what is next.
    aim()
  } else if (asked.value) {
    unsure.value = { what, message: said.value }
    said.value = ''
  }
  hush(bounceMs())
  focus()
}

/** What was asked about was meant. */
const meant = () => unsure.value?.what.type === 'pull' && tell({ ...unsure.value.what, sure: true })

async function simulate() {
  if (!simulated.value || pulling.value || busy.value) return
  pulling.value = true
  const recorded = letGo(selected, null)
  try {
    const body = {
      id: v7(),
      seen: bench.value.seq,
      operation: bench.value.operation.id,
      instrument: simulated.value.id,
    }
    take(await api.POST('/api/builds/{build}/rig/pull', { params: { path: { build: build.value } }, body }))
    recorded()
    clear()
    await refresh()
  } catch (caught) {
    said.value = caught instanceof Refused ? caught.message : 'The simulated wrench does not answer'
  } finally {
    pulling.value = false
    focus()
  }
}

function enter(event: KeyboardEvent) {
  if (entry.value.trim()) return
  event.preventDefault()
  if (!event.repeat) void heard()
}

function focus() {
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

function aim() {
  const now = next()
  if (now) draft.aim(now)
  unsure.value = null
  focus()
}

watch(
  () => [props.step.joint, props.step.stage, chosen.value].join(),
  () => hush(ARRIVED_MS),
)
// The gauge is zeroed, or read, at each fastener anew (C-12).
watch(
  () => [props.step.stage, fastener.value].join(),
  () => {
    start.value = ''
    torque.value = ''
    stopped.value = false
  },
)
watch(() => [bench.value.step, torqueUnit.value, chosen.value], focus)
onMounted(focus)
takesKeys(field, enter)
defineExpose({ simulate, aim, target })
</script>

<template>
  <div class="flex flex-wrap items-end justify-between gap-x-4">
    <div>
      <p class="text-xl text-dim">
        {{ asks.head ? 'Pull' : 'No.' }} {{ off || before ? '' : step.number }} {{ step.group
        }}{{ work.joints.length > 1 ? `, ${joint.name}` : '' }}
      </p>
      <p class="far" data-test="fastener">{{ fastener }}</p>
    </div>
    <div class="ml-auto text-right">
      <p class="text-xl text-dim">{{ planned?.name }}{{ asks.head && `, ${asks.head}` }}</p>
      <p v-if="asks.head" class="font-semibold whitespace-nowrap text-layout" data-test="target">
        <span class="far">{{ digits(live ? live.value : target.shown, target.dimension, scale) }}</span>
        <span class="text-4xl" :class="target.dimension !== 'angle' && 'ml-2'">{{ unit }}</span>
      </p>
    </div>
  </div>
  <p v-if="asks.question" class="text-4xl font-semibold text-layout" data-test="question">{{ asks.question }}</p>
  <p v-if="reached?.name && target.dimension === 'torque'" class="text-xl" data-test="adapter">
    Through <span class="font-semibold">{{ reached.name }}</span>
  </p>
  <div v-if="had" role="alert" class="border-4 border-wrong p-3" data-test="had-once">
    <p class="text-3xl font-semibold text-wrong">▲ {{ fastener }} has had {{ planned?.name }}</p>
    <p class="text-xl">It may have it only once: do not turn it again. To repeat it, loosen it first.</p>
  </div>
  <p v-if="off" class="font-semibold text-wrong">
    {{ step.fastener }} is next. A pull on {{ fastener }} is kept as out of order.
  </p>
  <div class="flex items-baseline justify-between gap-4">
    <p v-if="last" :class="last.wrong && 'text-wrong'" data-test="verdict">
      <span class="text-dim">{{ last.fastener }} {{ figure(last.value, last.dimension) }}</span>
      <span class="ml-3 inline-block text-3xl font-semibold">
        <span v-if="last.verdict === 'good'" class="paint-stroke" aria-hidden="true" />
        <span v-else aria-hidden="true">{{ last.wrong ? '▲ ' : '▽ ' }}</span>
        {{ last.says }}
      </span>
    </p>
    <p v-if="target.dimension !== 'count'" class="ml-auto text-xl whitespace-nowrap text-dim">
      <template v-if="step.climb && target.dimension === 'torque'"
        >at most {{ figure(target.high, 'torque', scale)
        }}<span class="block text-base whitespace-normal" data-test="why-most">{{
          whyMost(step.climb)
        }}</span></template
      >
      <template v-else
        >{{ figure(target.low, target.dimension, scale) }} to
        {{ figure(target.high, target.dimension, scale) }}</template
      >
    </p>
  </div>
  <ReadingScale
    v-if="asks.head && target.dimension === asks.dimension && !(step.climb && target.dimension === 'torque')"
    :target="target"
    :live="live"
  />
  <AngleDial
    v-if="turns"
    v-model:start="start"
    v-model:down="down"
    :angle="target.shown"
    :from="line"
    :live="live ? live.value - target.so_far : null"
  />
  <SlotHelp v-if="asks.slots" :key="fastener" :slots="asks.slots" :fastener="fastener" />
  <template v-if="key">
    <p v-if="click && !click.is_set" class="text-xl" data-test="set-first">
      Set {{ tool?.name }} to <span class="font-semibold">{{ figure(target.shown, 'torque', scale) }}</span>
      <span v-if="click.set_to_nm" class="text-dim">, it is at {{ figure(click.set_to_nm, 'torque', scale) }}</span>
    </p>
    <button
      class="key key-main min-h-16 text-2xl"
      :disabled="slow || !!entry.trim()"
      data-test="heard"
      :data-in-hand="key.words"
      :data-listens="listens && !busy"
      @click="heard()"
    >
      {{ key.words }}
    </button>
    <button
      v-for="plain in others"
      :key="plain.words"
      class="key min-h-14"
      :disabled="slow || !!entry.trim()"
      data-test="plain"
      @click="heard(plain)"
    >
      {{ plain.words }}
    </button>
    <button
      v-if="key.does === 'clicked'"
      class="quiet-key self-start py-1"
      :disabled="slow || !!entry.trim()"
      data-test="unsure-click"
      @click="heard(key, 'unsure')"
    >
      Not sure it clicked
    </button>
    <div v-if="unsure" class="flex items-center gap-3">
      <p role="alert" class="said-wrong grow text-lg" data-test="unsure">{{ unsure.message }}</p>
      <button class="key whitespace-nowrap" :disabled="slow" @click="meant">Keep it</button>
    </div>
  </template>
  <form class="flex gap-2" @submit.prevent="record()">
    <label class="grow">
      <span class="sr-only">{{ asks.field }} for {{ fastener }}</span>
      <input
        ref="field"
        v-model="shown"
        name="reading"
        class="field min-h-14 text-2xl"
        :class="draft.ask.value && 'border-wrong'"
        :aria-invalid="draft.ask.value"
        inputmode="decimal"
        autocomplete="off"
        :placeholder="
          slow && sent
            ? `Recording ${sent}…`
            : key
              ? `Enter: ${key.words.charAt(0).toLowerCase()}${key.words.slice(1)}`
              : `${start.trim() && turns ? 'Reading after the turn' : asks.field}, then Enter`
        "
        @keydown.esc="draft.clear()"
        @keydown.enter="enter"
      />
    </label>
    <button type="submit" class="key min-h-14 whitespace-nowrap" :disabled="!shown.trim()">
      {{ draft.ask.value ? 'Keep it' : 'Record' }}
    </button>
  </form>
  <div v-if="before && !draft.ask.value" class="grid grid-cols-2 gap-2" data-test="before">
    <p class="col-span-2 text-lg font-semibold">
      ▲ What is typed was begun for {{ before.what }}. {{ before.now }} is next.
    </p>
    <button class="key min-h-12" data-test="for-next" @click="aim">It is for {{ before.now }}</button>
    <button class="key min-h-12" data-test="let-go" @click="(draft.clear(), focus())">Let go of it</button>
  </div>
  <p v-if="draft.ask.value" role="alert" class="said-wrong text-lg" data-test="asked">{{ draft.message.value }}</p>
  <label v-if="turns && entry.trim()" class="flex items-center gap-2">
    <span class="label-text shrink-0">Torque it showed there</span>
    <input
      v-model="torque"
      name="torque-there"
      class="line-field grow"
      inputmode="decimal"
      autocomplete="off"
      placeholder="if it shows one"
      @keydown.enter.prevent="record()"
    />
  </label>
  <label class="-mt-1 flex items-center gap-2">
    <span class="label-text shrink-0">With</span>
    <select v-model="chosen" class="line-field grow" name="instrument">
      <option v-if="!tool" value="" disabled>Choose a tool</option>
      <option v-for="t in tools" :key="t.id" :value="t.id">{{ t.name }}{{ t.fault ? ' (does not fit)' : '' }}</option>
    </select>
  </label>
  <p v-if="!tool" class="font-semibold text-wrong" data-test="no-tool">
    ▲ No tool of the shop fits this. Choose one that is used all the same, or add one in the shop settings.
  </p>
  <p v-if="tool?.fault" class="font-semibold text-wrong" data-test="tool-fault">
    ▲ {{ sentence(tool.fault) }}: what is typed from it is kept as a deviation.
  </p>
  <button
    v-if="target.dimension === 'torque'"
    class="quiet-key self-start py-1"
    :aria-pressed="stopped"
    data-test="stopped"
    @click="stopped = !stopped"
  >
    {{ stopped ? '✓ Stopped in mid-pull' : 'Stopped in mid-pull' }}
  </button>
  <p v-if="stopped && target.dimension === 'torque'" class="text-lg font-semibold" data-test="stopped-advice">
    Friction at rest is higher: back off a little, then pull in one motion. It is recorded with the pull.
  </p>
  <button
    v-if="simulated"
    class="quiet-key self-start py-1"
    :disabled="slow || pulling || off"
    data-test="simulate"
    @click="simulate"
  >
    {{ measures ? 'Let the simulated gauge read' : pulling ? 'Pulling…' : 'Let the simulated wrench pull' }}
  </button>
</template>
