<script setup lang="ts">
// What surrounds the work of every operation: its name and cautions, what is open, the signature.
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, toRef, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import type { Schemas } from '../api/client'
import type { Live } from '../api/live'
import type { CommandAction } from '../api/outbox'
import AidList from '../ui/AidList.vue'
import FindingList from '../ui/FindingList.vue'
import { person } from '../ui/preferences'
import { besidesFindings, openIssues } from '../ui/issues'
import ReasonDialog from '../ui/ReasonDialog.vue'
import SealClock from '../ui/SealClock.vue'
import { hasShortcuts, useLargeButton } from '../ui/singleKeys'
import WantedList from '../ui/WantedList.vue'
import { when } from '../ui/units'
import BenchKeys from './BenchKeys.vue'
import { benches } from './benches'
import { provideHand, type Looks } from './hand'
import IssueList from './IssueList.vue'
import OperationSignature from './OperationSignature.vue'
import { listed } from '../ui/catalog'
import { t } from './texts'

// It comes when it is opened.
const FindingDialog = defineAsyncComponent(() => import('./FindingDialog.vue'))
const props = defineProps<{
  build: string
  bench: Schemas['OperationBench']
  live: Live | null
  looks: Looks
}>()
const router = useRouter()
const hand = provideHand(
  toRef(props, 'build'),
  computed(() => props.bench),
  computed(() => props.live),
  props.looks,
)
useLargeButton()
const help = ref(false)
const skipping = ref(false)
const SKIPPED = t('bench-the-build-sheet-shows-it-as') + t('bench-lead-approval-is-needed-before-the')
const operation = computed(() => props.bench.operation)

/** What a press at this bench is for (C-68): what is in hand, by what the server says is next. */
const inHand = computed(() => {
  const { step } = props.bench
  const keys = ['joint', 'stage', 'fastener', 'item', 'hardware', 'slot', 'site', 'place', 'clearance', 'number']
  const of = Object.entries(step).filter(([key]) => keys.includes(key))
  return [operation.value.id, operation.value.status, step.kind, ...of.map(([, value]) => value)].join(' ')
})

/** Sealant that still cures on this engine, but for what this operation says it waits for. */
const cures = computed(() =>
  props.bench.cures.filter(
    (cure) => Date.parse(cure.until) > Date.now() && !(waits.value && cure.until === operation.value.cure?.until),
  ),
)

/** Findings that hold this operation, or were made at it. */
const findings = computed(() =>
  props.bench.findings.filter(
    (finding) =>
      finding.holds === operation.value.id ||
      (finding.operation === operation.value.id && finding.standing !== 'settled'),
  ),
)
const finding = ref(false)
const issues = computed(() => besidesFindings(props.bench.issues))
/** Where issues and problems are listed. */
const issueArea = useTemplateRef('issue-area')
function toIssues() {
  issueArea.value?.scrollIntoView({ block: 'center' })
  issueArea.value?.focus({ preventScroll: true })
}
/** Records something; why it was refused, or nothing. */
const record = async (what: CommandAction) => ((await hand.act(what)) ? '' : hand.said.value)
const waits = computed(() => Date.parse(operation.value.cure?.until ?? '') > Date.now())

async function goOn() {
  const next = props.bench.after
  await router.push(next ? `/engines/${props.build}/bench/${next}` : `/engines/${props.build}`)
}

async function sign() {
  if (props.bench.goes_on) return goOn()
  const also = props.bench.sign_with.map((other) => other.id)
  if (!(await hand.act({ type: 'sign', operation: operation.value.id, also }))) return
  const next = props.bench.after
  await router.push(next ? `/engines/${props.build}/bench/${next}` : `/engines/${props.build}/sheet`)
}

async function skip(reason: string) {
  skipping.value = false
  await hand.act({ type: 'skip', operation: operation.value.id, reason })
}

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (help.value || event.ctrlKey || event.metaKey || event.altKey) return
  const target = event.target as HTMLElement
  const typing = target instanceof HTMLInputElement && target.value !== ''
  if (event.key === '?' && !typing && hasShortcuts()) {
    event.preventDefault()
    help.value = true
  }
  const onControl = target.closest('button, a, select, [role=dialog]')
  if (event.key === 'Enter' && operation.value.status === 'to-sign' && !onControl && !typing) void sign()
})
</script>

<template>
  <div class="flex flex-wrap items-baseline gap-x-4 border-b-2 border-ink pb-1" :data-in-hand="inHand">
    <RouterLink :to="`/engines/${build}`" class="way-back max-sm:order-1">{{ bench.build }}</RouterLink>
    <h1 class="text-2xl font-semibold max-sm:order-3 max-sm:w-full">{{ operation.name }}</h1>
    <span v-if="operation.total" class="text-lg max-sm:order-4" data-test="progress">{{
      t('bench-of', { done: operation.done, total: operation.total })
    }}</span>
    <button
      v-if="bench.issues.length"
      class="text-2xl font-semibold text-wrong underline underline-offset-4 max-sm:order-4 max-sm:min-h-11"
      data-test="to-issues"
      @click="toIssues"
    >
      ▲ {{ openIssues(bench.issues.length) }}
    </button>
    <p v-for="caution in operation.cautions" :key="caution" class="flex items-center gap-2 text-dim max-sm:order-5">
      <svg viewBox="0 0 24 24" class="size-5 shrink-0" aria-hidden="true">
        <path d="M12 3 22 21H2z" fill="none" stroke="currentColor" stroke-width="2" />
        <path d="M12 10v5m0 2v1.5" stroke="currentColor" stroke-width="2" />
      </svg>
      {{ caution }}
    </p>
    <button
      class="ml-auto min-h-11 min-w-11 p-2 text-dim max-sm:order-2"
      :aria-label="t('bench-keys-at-the-bench-2')"
      @click="help = true"
    >
      ?
    </button>
  </div>

  <p v-if="operation.status === 'waiting'" class="mt-3 text-lg" data-test="waits">
    {{ t('bench-waits-for', { waits_for: listed(operation.waits_for) }) }}
    <template v-if="bench.work.work !== 'sign'">{{ t('bench-you-can-record-now-and-sign') }}</template>
  </p>
  <WantedList v-if="bench.wanted.length" class="mt-3" :wanted="bench.wanted" :build="build" :seq="bench.seq" />
  <p v-if="waits" class="mt-3 text-lg" data-test="cures">
    {{ t('bench-the-sealant-of-cures-until', { cure: operation.cure?.name, time: when(operation.cure?.until) }) }}
  </p>
  <p v-for="why in operation.again" :key="why" class="mt-3 flex items-center gap-3 text-lg" data-test="again">
    <svg viewBox="0 0 24 24" class="size-6 shrink-0" aria-hidden="true">
      <path d="M5 12a7 7 0 1 1 3 5.7M8 22l0-5 5 0" fill="none" stroke="var(--layout)" stroke-width="2.5" />
    </svg>
    <span
      ><span class="font-semibold">{{ t('bench-to-be-done-again-2') }}</span> {{ why }}.</span
    >
  </p>
  <p v-for="cure in cures" :key="cure.name" class="mt-3 text-lg" data-test="cure-running">
    {{ t('common-the-sealant-of-cures-until', { cure: cure.name }) }}
    <span class="font-semibold">{{ when(cure.until) }}</span>.
  </p>
  <SealClock
    v-for="clock in bench.clocks"
    :key="clock.since + clock.name"
    :clock="clock"
    :build="build"
    :here="clock.operation === operation.id"
  />
  <p
    v-if="hand.late.value"
    role="alert"
    :class="[
      'no-print fixed inset-x-0 bottom-0 z-20 border-t-4',
      'border-on-wrong bg-wrong p-3 text-center text-2xl font-semibold text-on-wrong',
    ]"
    data-test="not-recorded"
  >
    {{ t('bench-not-recorded-yet-do-not-pull') }}
  </p>
  <div class="contents" data-work>
    <component :is="benches[bench.work.work]" :key="person" :work="bench.work" />
    <OperationSignature @sign="sign" />
  </div>

  <!-- A refusal, issues and problems stand below the work: it stays where it is when they come. -->
  <p
    v-if="hand.said.value"
    role="alert"
    class="said-wrong sticky bottom-0 z-10 mt-3 bg-face py-2 text-lg text-wrong"
    data-test="refusal"
  >
    {{ hand.said.value }}
  </p>
  <div v-if="issues.length || findings.length" ref="issue-area" tabindex="-1" class="outline-none">
    <IssueList v-if="issues.length" :issues="issues" />
    <FindingList v-if="findings.length" class="mt-3 border-l-4 border-wrong pl-3" :findings="findings" :act="record" />
  </div>

  <div class="mt-auto flex flex-wrap items-end justify-between gap-x-8 gap-y-2 pt-6">
    <div class="flex flex-wrap gap-x-8">
      <button class="quiet-key py-1" data-test="found" @click="finding = true">
        {{ t('bench-report-a-problem') }}
      </button>
      <button
        v-if="!operation.signed_by && bench.work.work !== 'sign'"
        class="quiet-key py-1"
        data-test="leave-out"
        @click="skipping = true"
      >
        {{ t('bench-skip-operation') }}
      </button>
    </div>
    <AidList :aids="bench.aids" :operation="operation.id" :act="record" />
  </div>
  <FindingDialog v-if="finding" @close="finding = false" />
  <ReasonDialog
    :open="skipping"
    :title="t('bench-skip-operation')"
    :about="SKIPPED"
    :action="t('bench-skip-operation')"
    :usual="[]"
    @close="skipping = false"
    @reason="skip"
  />
  <BenchKeys :open="help" @close="help = false" />
</template>
