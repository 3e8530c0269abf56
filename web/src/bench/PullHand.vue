<script setup lang="ts">
// The pull in hand: what to give to which fastener with what, and saying what came of it.
import { v7 } from 'uuid'
import { computed, onMounted, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import type { CommandAction } from '../api/outbox'
import { pressGap, torqueUnit } from '../ui/preferences'
import { unitOf } from '../ui/units'
import AngleDial from './AngleDial.vue'
import type { WorkOf } from './benches'
import { letGo, useHand } from './hand'
import { pullAnswers, type PullAnswer } from './pullAnswer'
import PullField from './PullField.vue'
import PullKeys from './PullKeys.vue'
import PullTarget from './PullTarget.vue'
import PullTool from './PullTool.vue'
import SlotHelp from './SlotHelp.vue'
import { useEntry } from './useEntry'
import { usePullTool } from './usePullTool'
import { ARRIVED_MS, useQuietTime } from './useQuietTime'
import { t } from './texts'

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
/** The target as the chosen tool shows it. */
const emit = defineEmits<{ target: [target: Schemas['PullStep']['target']]; void: [] }>()
/** A fastener that was tapped instead of the next one. */
const selected = defineModel<string | null>('selected', { required: true })
const { build, bench, live, busy, slow, said, asks: asked, act, refresh } = useHand()
const field = ref<InstanceType<typeof PullField>>()
const pulling = ref(false)
/** What a gauge on the bar shows before the turn, and the torque a wrench shows after it. */
const start = ref('')
const down = ref(false)
const torque = ref('')
/** What the builder says of the pull in hand: it was stopped and went on from rest. */
const stopped = ref(false)
/** What was said on one key and asked about. */
const unsure = ref<{ what: CommandAction; message: string } | null>(null)

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

const { reached, measures, tools, tool, chosen, target, unit, simulated } = usePullTool({
  work: () => props.work,
  step: () => props.step,
  off,
  asks,
  stage: planned,
  mark,
})
/** Where its painted line stands: where its finished stages left it, and what was turned in this one (C-65). */
const line = computed(() => (mark.value?.strokes.at(-1)?.at_deg ?? 0) + (off.value ? 0 : target.value.so_far))
watch(target, (now) => emit('target', now), { immediate: true })
const turns = computed(
  () => asks.value.dimension === 'angle' && target.value.dimension === 'angle' && !!asks.value.head,
)

const bounceMs = () => pressGap.value
const { listens, hush } = useQuietTime()

/** What can be answered without a figure, the answer of the large key first. */
const answers = computed(() => pullAnswers(asks.value, tool.value, target.value))
const main = computed(() => answers.value[0])

function pulled(
  aim: Aim,
  reading: Schemas['GivenReading'],
  method: Schemas['ReadingMethod'],
  sure = false,
  note: Schemas['PullNote'] | null = stopped.value ? 'stopped' : null,
): CommandAction {
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
    said.value = t('bench-choose-the-tool-that-it-was')
    return
  }
  const typed = draft.hold()
  if (!typed) return
  const angle = typed.target.dimension === 'angle'
  const from = Number(start.value.replace(',', '.'))
  if (turns.value && start.value.trim() && !Number.isFinite(from)) {
    said.value = t('bench-the-reading-before-the-turn-is', { start: start.value })
    return
  }
  const reading: Schemas['GivenReading'] = {
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
    if (more) said.value = t('bench-typed-behind-it-and-not-recorded', { said: said.value, more })
    typed.failed(said.value, asked.value)
    // What is asked is said at the field.
    if (asked.value) said.value = ''
    hush(bounceMs())
  }
  focus()
}

/** Somebody says on one key that the wrench is set, or what came of the pull. */
async function heard(answer: PullAnswer | undefined, note?: Schemas['PullNote']) {
  if (!answer || entry.value.trim() || busy.value || !listens.value) return
  if (!tool.value) {
    said.value = t('bench-choose-the-tool-that-it-was-2')
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

async function tell(what: CommandAction) {
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
    said.value = caught instanceof Refused ? caught.message : t('bench-no-connection-to-the-simulated-wrench')
  } finally {
    pulling.value = false
    focus()
  }
}

const focus = () => field.value?.focus()

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
defineExpose({ simulate, aim })

/** What is in the empty field: what is on its way, or what Enter means. */
const placeholder = computed(() => {
  if (slow.value && sent.value) return t('bench-recording', { sent: sent.value })
  const words = main.value?.words
  if (words) return t('bench-enter-2', { first: words.charAt(0).toLowerCase(), rest: words.slice(1) })
  return t('bench-then-enter', {
    field: start.value.trim() && turns.value ? t('bench-reading-after-the-turn') : asks.value.field,
  })
})
</script>

<template>
  <PullTarget
    :step="step"
    :asks="asks"
    :stage="planned"
    :target="target"
    :unit="unit"
    :fastener="fastener"
    :joint="work.joints.length > 1 ? joint.name : ''"
    :elsewhere="off || !!before"
    :off="off"
    :had="!!had"
    :through="reached?.name ?? ''"
    :last="last"
    :live="live"
    @void="emit('void')"
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
  <PullKeys
    v-if="main"
    :answer="main"
    :others="answers.slice(1)"
    :tool="tool"
    :target="target"
    :disabled="slow || !!entry.trim()"
    :listens="listens && !busy"
    :question="unsure?.message ?? ''"
    @answer="heard"
    @meant="meant"
  />
  <PullField
    ref="field"
    v-model="shown"
    :label="t('bench-for', { field: asks.field, fastener })"
    :placeholder="placeholder"
    :ask="draft.ask.value"
    :message="draft.message.value"
    :before="before"
    :empty="!entry.trim()"
    @record="record()"
    @answer="heard(main)"
    @clear="draft.clear()"
    @aim="aim"
  />
  <label v-if="turns && entry.trim()" class="flex items-center gap-2">
    <span class="label-text shrink-0">{{ t('bench-torque-reached') }}</span>
    <input
      v-model="torque"
      name="torque-there"
      class="line-field grow"
      inputmode="decimal"
      autocomplete="off"
      :placeholder="t('bench-if-shown')"
      @keydown.enter.prevent="record()"
    />
  </label>
  <PullTool v-model="chosen" :tools="tools" :tool="tool" />
  <button
    v-if="target.dimension === 'torque'"
    class="quiet-key self-start py-1"
    :aria-pressed="stopped"
    data-test="stopped"
    @click="stopped = !stopped"
  >
    {{ stopped ? t('bench-stopped-mid-pull') : t('bench-stopped-mid-pull-2') }}
  </button>
  <p v-if="stopped && target.dimension === 'torque'" class="text-lg font-semibold" data-test="stopped-advice">
    {{ t('bench-static-friction-reads-high-back-off') }}
  </p>
  <button
    v-if="simulated"
    class="quiet-key self-start py-1"
    :disabled="slow || pulling || off"
    data-test="simulate"
    @click="simulate"
  >
    {{ measures ? t('bench-simulate-reading') : pulling ? t('bench-pulling') : t('bench-simulate-pull') }}
  </button>
</template>
