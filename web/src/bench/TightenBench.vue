<script setup lang="ts">
// Joints at the bench: the map, the step in hand, what is next, the last pulls.
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Schemas } from '../api/client'
import { acknowledged } from '../ui/preferences'
import { hasShortcuts } from '../ui/singleKeys'
import { playVerdict, wakeSound } from '../ui/sound'
import { figure, isLength, say, unitOf } from '../ui/units'
import ActHand from './ActHand.vue'
import type { WorkOf } from './benches'
import ClimbPicture from './ClimbPicture.vue'
import FastenerMap from './FastenerMap.vue'
import FilmLine from './FilmLine.vue'
import { useHand } from './hand'
import LoosenHand from './LoosenHand.vue'
import ReleasedField from './ReleasedField.vue'
import OffTargetHand from './OffTargetHand.vue'
import OrderPictures from './OrderPictures.vue'
import PullHand from './PullHand.vue'
import PullList from './PullList.vue'
import ReasonDialog from '../ui/ReasonDialog.vue'
import ChoiceTabs from '../ui/ChoiceTabs.vue'
import StageLine from './StageLine.vue'
import { useAnnouncer } from './useAnnouncer'
import { useStretchGauge } from './useStretchGauge'
import WhyThis from './WhyThis.vue'
import { openIssues } from '../ui/issues'
import { t } from './texts'

const props = defineProps<{ work: WorkOf<'tighten'> }>()
const { build, bench, act, said } = useHand()
const pulls = ref<InstanceType<typeof PullList>>()
const hand = ref<InstanceType<typeof PullHand>>()
/** A fastener that was tapped instead of the next one. */
const selected = ref<string | null>(null)
/** Fasteners that were tapped because they will not run down. */
const resisting = ref<string[]>([])
const why = ref(false)
/** The large map stands below the fold there: a small one stands above the figure. */
const isPhone = useMediaQuery('(max-width: 639px)')
const orders = ref(false)
/** A joint that was looked at instead of the one in hand. */
const looked = ref<string | null>(null)

const step = computed(() => bench.value.step)
const lookAt = (id: string) => (looked.value = id === inHand.value?.id ? null : id)
const inHand = computed(() => props.work.joints.find((j) => j.in_hand))
const joint = computed(
  () => props.work.joints.find((j) => j.id === looked.value) ?? inHand.value ?? props.work.joints[0],
)
/** The joint that is pulled on: one that is only looked at is not, until a fastener of it is tapped. */
const aimed = computed(() => (selected.value ? joint.value : inHand.value))
const last = computed(() => props.work.pulls.find((p) => !p.voided))
/** What of the joint is to be taken apart again: one fastener, or all of it; or a bead that is laid again. */
const apart = ref<{ fastener: string | null } | { bead: Schemas['SealantTimer'] } | null>(null)
/** How much shorter a tight bolt got when it was loosened, as it is typed: of the one that is asked about. */
const released = ref('')
watch(apart, (asked) => {
  if (asked) released.value = refused.value = ''
})
const { gauge: stretchGauge } = useStretchGauge(() => props.work.gauges)
const tight = computed(() => joint.value?.fasteners.filter((mark) => mark.tight) ?? [])
const bead = computed(() => bench.value.clocks.find((clock) => clock.operation === bench.value.operation.id))
const apartTitle = computed(() => {
  if (!apart.value) return ''
  if ('bead' in apart.value) return t('bench-lay-the-bead-again')
  return apart.value.fastener
    ? t('bench-loosen-3', { fastener: apart.value.fastener })
    : t('bench-take-apart', { joint: joint.value?.name ?? '' })
})
const apartAbout = computed(() => {
  if (!apart.value) return ''
  if ('bead' in apart.value) return t('bench-remove-the-old-sealant-and-clean')
  return apart.value.fastener
    ? t('bench-its-stages-start-again-signatures-that')
    : t('bench-all-in-reverse-sequence-outside-first', { count: tight.value.length }) +
        t('bench-everything-that-depends-on-it-lapses')
})
const reasons = computed(() => {
  if (apart.value && 'bead' in apart.value)
    return [t('bench-skinned-before-assembly'), t('bench-squeezed-out-unevenly')]
  return [
    ...(broughtHere.value ? [broughtHere.value] : []),
    t('bench-something-underneath-was-wrong'),
    t('bench-a-part-was-forgotten'),
    t('bench-trial-measurement'),
    ...(apart.value?.fastener ? [t('bench-to-check-its-stretch')] : []),
  ]
})
/** Who comes from a problem that lies under a joint is asked at once to take that apart. */
const [route, router] = [useRoute(), useRouter()]
const broughtHere = ref('')
onMounted(() => {
  const why = String(route.query.why ?? '')
  const of = props.work.joints.find((one) => one.id === route.query.apart)
  if (!of || props.work.task !== 'tighten') return
  // It is asked once: the page that is opened again later asks nothing.
  void router.replace({ query: {} })
  if (!of.fasteners.some((mark) => mark.tight)) return
  looked.value = of.in_hand ? null : of.id
  broughtHere.value = why
  apart.value = { fastener: null }
})
/** What was refused stays as it was entered, with why. */
const refused = ref('')
async function takeApart(reason: string) {
  const [what, operation, of] = [apart.value, bench.value.operation.id, joint.value]
  if (!what || !of) return
  const measured = released.value.trim()
    ? { released: released.value, unit: unitOf('clearance'), instrument: stretchGauge.value }
    : {}
  const recorded =
    'bead' in what
      ? await act({ type: 'act', operation, joint: what.bead.joint, stage: what.bead.stage, again: reason })
      : await act({
          type: 'loosen',
          operation,
          joint: of.id,
          fastener: what.fastener ?? of.fasteners[0]?.id ?? '',
          rest: !what.fastener,
          reason,
          ...measured,
        })
  refused.value = recorded ? '' : said.value
  if (!recorded) return
  apart.value = null
  selected.value = null
}
/** The last pull where it went wrong and nobody has acknowledged it: it comes before the next one. */
const wrong = computed(() => {
  const pull = last.value
  return pull?.wrong && !pull.loosened && !pull.accepted && pull.seq > (acknowledged.value[build.value] ?? 0)
    ? pull
    : null
})
function acknowledge() {
  if (last.value) acknowledged.value = { ...acknowledged.value, [build.value]: last.value.seq }
}
/** The climb of the bolt in hand, where it is one to a stretch. */
const climb = computed(() => ('climb' in step.value && joint.value?.in_hand ? step.value.climb : null))
/** The target that the figures of the pull in hand come from, once it is known. */
const shownTarget = ref<Schemas['PullStep']['target'] | null>(null)
const target = computed(() => (step.value.kind === 'pull' ? (shownTarget.value ?? step.value.target) : null))

function line(next: Schemas['BenchStep']): string {
  if (next.kind === 'act') return next.name
  if (next.kind === 'loosen') return t('bench-loosen-next', { fastener: next.fastener })
  if (next.kind !== 'pull') return t('bench-sign-2')
  const { number, group, fastener, target: of, asks } = next
  if (next.climb && isLength(asks.dimension)) return t('bench-read-the-stretch-of', { fastener })
  return [
    `${number}, ${group} ${fastener}`,
    asks.head ? figure(of.shown, of.dimension) : asks.field.toLowerCase(),
  ].join(', ')
}

/** What is to be done now, as it is said. */
function nextSaid(): string {
  const now = step.value
  if (now.kind === 'act') return t('bench-next-2', { now: now.name })
  if (now.kind === 'loosen') return t('bench-next-loosen', { fastener: now.fastener })
  if (now.kind !== 'pull') return props.work.task === 'loosen' ? t('bench-all-loose') : t('bench-all-tightened-2')
  const of = target.value ?? now.target
  return t('bench-next-3', {
    fastener: now.fastener,
    shown: now.asks.head ? figure(of.shown, of.dimension) : now.asks.field.toLowerCase(),
  })
}
const announcement = useAnnouncer(
  () =>
    last.value
      ? {
          seq: last.value.seq,
          text: `${last.value.fastener} ${last.value.says}, ${figure(last.value.read, last.value.dimension)}`,
        }
      : null,
  nextSaid,
)

function select(id: string) {
  if (step.value.kind === 'act') {
    if (!step.value.of_group) return
    resisting.value = resisting.value.includes(id)
      ? resisting.value.filter((other) => other !== id)
      : [...resisting.value, id]
    return
  }
  const next = step.value.kind === 'pull' || step.value.kind === 'loosen' ? step.value.fastener : null
  selected.value = (id === next && joint.value?.in_hand) || id === selected.value ? null : id
  // What is typed is for the one that was tapped, once that is known at the hand.
  void nextTick(() => hand.value?.aim())
}

onMounted(() => window.setTimeout(wakeSound))
watch(
  () => last.value?.seq,
  (now, before) => {
    if (!last.value || !now || before === undefined || now <= before) return
    const heard = last.value.wrong ? 'over' : last.value.verdict
    // It is seen first.
    requestAnimationFrame(() => window.setTimeout(() => playVerdict(heard)))
  },
)
watch(
  () =>
    [
      step.value.kind,
      'stage' in step.value ? step.value.stage : '',
      'joint' in step.value ? step.value.joint : '',
    ].join(),
  () => {
    resisting.value = []
    looked.value = null
    selected.value = null
  },
)

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.ctrlKey || event.metaKey || event.altKey || !hasShortcuts()) return
  const at = event.target as HTMLElement
  if (at.closest('select, [role=dialog]') || (at instanceof HTMLInputElement && (at.name !== 'reading' || at.value)))
    return
  const keys: Record<string, () => void> = {
    w: () => void hand.value?.simulate(),
    y: () => (why.value = !why.value),
    o: () => (orders.value = !orders.value),
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
  <p v-if="bench.operation.status === 'waiting'" class="text-lg">{{ t('bench-pulls-are-recorded-as-deviations') }}</p>
  <p v-if="work.task === 'tighten' && work.purpose === 'trial'" class="text-lg font-semibold" data-test="trial">
    {{ t(work.fasteners ? 'bench-trial-tightening-with' : 'bench-trial-tightening', { fasteners: work.fasteners }) }}
  </p>
  <p v-if="work.task === 'tighten' && (work.uses ?? 1) > 1" class="text-lg" data-test="uses">
    {{ t('bench-use-no-of-these-fasteners', { uses: work.uses }) }}
  </p>
  <div class="bench">
    <section v-if="joint" class="bench-side flex flex-col gap-3">
      <ChoiceTabs
        v-if="work.joints.length > 1"
        :model-value="joint.id"
        :options="
          work.joints.map((j) => ({ value: j.id, name: j.in_hand ? t('bench-in-hand', { joint: j.name }) : j.name }))
        "
        :label="t('bench-joints-worked-together')"
        test="joint"
        @update:model-value="lookAt"
      />
      <div :class="climb && 'grid items-start gap-x-5 gap-y-3 sm:grid-cols-[2fr_3fr]'">
        <FastenerMap
          :drawing="joint.drawing"
          :fasteners="joint.fasteners"
          :selected="selected"
          :marked="resisting"
          @select="select"
        />
        <ClimbPicture
          v-if="climb && 'fastener' in step"
          class="max-sm:order-first"
          :climb="climb"
          :fastener="step.fastener"
        />
      </div>
      <StageLine v-if="joint.stages.length" :stages="joint.stages" />
      <div v-if="joint.orders.length">
        <button class="quiet-key py-1" :aria-expanded="orders" data-test="show-orders" @click="orders = !orders">
          {{ orders ? t('bench-hide-tightening-sequence') : t('bench-show-tightening-sequence') }}
        </button>
        <OrderPictures v-if="orders" :joint="joint" class="mt-2" />
      </div>
      <div v-if="work.task === 'tighten'" class="flex flex-wrap gap-x-6">
        <button
          v-if="selected && tight.some((mark) => mark.id === selected)"
          class="quiet-key py-1"
          data-test="loosen-one"
          @click="apart = { fastener: selected }"
        >
          {{ t('bench-loosen-2', { selected }) }}
        </button>
        <button v-if="tight.length" class="quiet-key py-1" data-test="take-apart" @click="apart = { fastener: null }">
          {{ t('common-take-joint-apart') }}
        </button>
        <button v-if="bead && !tight.length" class="quiet-key py-1" data-test="bead-again" @click="apart = { bead }">
          {{ t('bench-lay-the-bead-again') }}
        </button>
      </div>
      <ReasonDialog
        :open="!!apart"
        :title="apartTitle"
        :about="apartAbout"
        :action="apart && 'bead' in apart ? t('bench-new-bead-laid') : t('bench-record-as-loosened')"
        :usual="reasons"
        @close="apart = null"
        @reason="takeApart"
      >
        <ReleasedField v-if="apart && 'fastener' in apart && apart.fastener" v-model="released" :tools="work.gauges" />
        <p v-if="refused" class="said-wrong mt-3" role="alert">{{ refused }}</p>
      </ReasonDialog>
      <section v-if="work.released.length" :aria-label="t('bench-stretch-read-on-tight-bolts')" data-test="released">
        <p
          v-for="of in work.released.slice(0, 3)"
          :key="of.seq"
          class="py-1 text-lg"
          :class="of.off && 'font-semibold text-wrong'"
        >
          {{ of.off ? '▲ ' : '' }}<b>{{ of.fastener }}</b> {{ say(of.words) }}
        </p>
      </section>
      <PullList ref="pulls" :pulls="work.pulls" :count="work.pull_count" :joints="work.joints" />
    </section>

    <section class="bench-hand gap-2.5" :aria-label="t('common-pull')">
      <p role="status" class="sr-only" data-test="announcement">{{ announcement }}</p>
      <FastenerMap
        v-if="joint && isPhone"
        small
        class="-mx-1"
        :drawing="joint.drawing"
        :fasteners="joint.fasteners"
        :selected="selected"
      />
      <OffTargetHand
        v-if="wrong"
        :pull="wrong"
        :step="step"
        @acknowledge="acknowledge"
        @void="pulls?.voidEntry(wrong.seq)"
      />
      <PullHand
        v-else-if="step.kind === 'pull' && aimed"
        ref="hand"
        v-model:selected="selected"
        :step="step"
        :work="work"
        :joint="aimed"
        :last="last"
        @target="shownTarget = $event"
        @void="pulls?.voidLast()"
      />
      <ActHand
        v-else-if="step.kind === 'act'"
        :step="step"
        :tools="work.tools[0]?.tools ?? []"
        :resisting="resisting"
        @done="resisting = []"
      />
      <LoosenHand
        v-else-if="step.kind === 'loosen'"
        v-model:selected="selected"
        :step="step"
        :tools="work.tools[0]?.tools ?? []"
        :stretch-gauges="work.gauges"
        :left="bench.operation.total - bench.operation.done"
      />
      <template v-else>
        <p class="headline">
          {{
            work.task === 'loosen'
              ? t('bench-all-loose')
              : bench.issues.length
                ? t('bench-all-tightened', { count: openIssues(bench.issues.length) })
                : t('bench-all-tightened-2')
          }}
        </p>
        <p v-if="last" class="text-xl text-dim" data-test="verdict">
          {{ t('bench-last', { fastener: last.fastener, last: figure(last.value, last.dimension), says: last.says }) }}
        </p>
      </template>
      <p v-if="step.kind !== 'sign' && !wrong" class="text-xl">
        <span class="text-dim">{{ t('bench-then') }}</span> {{ line(bench.then) }}
      </p>
      <FilmLine v-if="work.film && work.task === 'tighten'" :film="work.film" />
      <WhyThis v-if="work.why" v-model:open="why" :why="work.why" :target="target" />
    </section>
  </div>
</template>
