<script setup lang="ts">
// One engine from its first operation to its last.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useLive } from '../api/live'
import { useBuild } from '../api/queries'
import AidList from '../ui/AidList.vue'
import FindingList from '../ui/FindingList.vue'
import { besidesFindings } from '../ui/issues'
import SealClock from '../ui/SealClock.vue'
import StateMark from '../ui/StateMark.vue'
import { useRecord } from '../ui/useRecord'
import ClearanceLines from './ClearanceLines.vue'
import DecisionRule from './DecisionRule.vue'
import LubricantPolicy from './LubricantPolicy.vue'
import OutsideList from './OutsideList.vue'
import PlanVersion from './PlanVersion.vue'
import WantedList from '../ui/WantedList.vue'
import { say, when } from '../ui/units'
import BuildRoute from './BuildRoute.vue'
import LoadError from '../ui/LoadError.vue'
import { usePageTitle } from '../ui/pageTitle'
import LoadingText from '../ui/LoadingText.vue'
import { t } from './texts'

const route = useRoute()
const build = computed(() => String(route.params.build))
const { data: engine, error, refetch } = useBuild(build)
useLive(build)

const record = useRecord(
  () => build.value,
  () => engine.value?.seq ?? 0,
  () => refetch(),
)
/** Can be done now: in hand, to be signed, or ready to be started. */
const now = computed(
  () => engine.value?.operations.filter((of) => ['held', 'in-work', 'to-sign', 'ready'].includes(of.status)) ?? [],
)
const open = computed(() => engine.value?.findings.filter((finding) => finding.standing !== 'settled') ?? [])
const issues = computed(() => besidesFindings(engine.value?.issues ?? []))
/** Figures that something waits for which could be done else; the others are in the plan. */
const wanted = computed(() => engine.value?.wanted.filter((one) => one.needed_now) ?? [])
const settled = computed(() => engine.value?.findings.filter((finding) => finding.standing === 'settled') ?? [])
usePageTitle(() => engine.value?.name)
</script>

<template>
  <main class="mx-auto w-full max-w-7xl px-4 py-6">
    <LoadError v-if="error && !engine" :error="error" :build="build" />
    <LoadingText v-else-if="!engine" />
    <template v-if="engine">
      <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
        <div>
          <RouterLink to="/" class="way-back">{{ t('common-engines') }}</RouterLink>
          <h1 class="text-4xl font-semibold tracking-tight">{{ engine.name }}</h1>
          <p class="text-dim">
            <template v-if="engine.identity">{{ engine.identity }}. </template
            >{{ t('engine-plan', { plan: engine.plan.name })
            }}<template v-if="engine.use_for">{{ ' ' }}{{ t('engine-for', { use_for: engine.use_for }) }}</template
            >{{ t('engine-added', { time: when(engine.begun_at) })
            }}<template v-if="engine.owner">. {{ engine.owner }}</template>
          </p>
        </div>
        <div class="flex flex-wrap gap-3">
          <nav class="flex flex-wrap gap-x-5" :aria-label="t('engine-papers')" data-test="papers">
            <RouterLink class="quiet-key flex min-h-11 items-center" :to="`/engines/${build}/work-order`">{{
              t('common-work-order')
            }}</RouterLink>
            <RouterLink class="quiet-key flex min-h-11 items-center" :to="`/engines/${build}/parts-list`">{{
              t('common-parts-list')
            }}</RouterLink>
            <RouterLink class="quiet-key flex min-h-11 items-center" :to="`/engines/${build}/labels`">{{
              t('common-labels')
            }}</RouterLink>
          </nav>
          <RouterLink class="key" :to="`/engines/${build}/sheet`">{{ t('common-build-sheet') }}</RouterLink>
          <RouterLink v-if="engine.current" class="key key-main" :to="`/engines/${build}/bench/${engine.current}`">
            {{ t('common-continue-work') }}
          </RouterLink>
        </div>
      </div>
      <p
        v-for="cure in engine.cures.filter((of) => Date.parse(of.until) > Date.now())"
        :key="cure.name"
        class="text-lg"
        data-test="cure-running"
      >
        {{ t('common-the-sealant-of-cures-until', { cure: cure.name }) }}
        <span class="font-semibold">{{ when(cure.until) }}</span>.
      </p>
      <SealClock v-for="clock in engine.clocks" :key="clock.since + clock.name" :clock="clock" :build="build" />
      <section v-if="engine.left.operations" :aria-label="t('common-can-be-done-now')" class="mt-4" data-test="now">
        <p class="text-lg">
          <span class="text-3xl font-semibold">{{ engine.left.steps }}</span> {{ t('engine-steps-in') }}
          <span class="text-3xl font-semibold">{{ engine.left.operations }}</span> {{ t('engine-operations-left') }}
          <span class="text-dim">{{
            now.length > 1 ? t('engine-can-be-done-in-parallel') : t('engine-can-be-done-now')
          }}</span>
        </p>
        <div class="mt-2 flex flex-wrap gap-2">
          <RouterLink
            v-for="operation in now"
            :key="operation.id"
            class="key"
            :to="`/engines/${build}/bench/${operation.id}`"
          >
            <StateMark :status="operation.status" />
            {{ operation.name }}
            <span v-if="operation.at_it && operation.done" class="font-normal text-dim">{{ operation.at_it.by }}</span>
          </RouterLink>
        </div>
      </section>
      <WantedList v-if="wanted.length" class="mt-5" :wanted="wanted" :build="build" :seq="engine.seq" />
      <FindingList v-if="open.length" class="mt-5 border-l-4 border-wrong pl-4" :findings="open" :act="record" />
      <AidList v-if="engine.current" class="mt-4" :aids="engine.aids" :operation="engine.current" :act="record" />
      <section v-if="issues.length" :aria-label="t('common-open-issues')" class="mt-5 border-l-4 border-wrong pl-4">
        <div v-for="issue in issues" :key="`${issue.seq}${say(issue.text)}`" class="flex gap-3 py-1">
          <StateMark status="held" />
          <p>
            <span class="font-semibold text-wrong">{{ say(issue.text) }}.</span> {{ say(issue.to_do) }}.
          </p>
        </div>
      </section>
      <div class="mt-6 grid grid-cols-[minmax(0,1fr)] gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,1fr)_26rem]">
        <BuildRoute :engine="engine" :build="build" />
        <div class="grid grid-cols-[minmax(0,1fr)] content-start gap-8">
          <section v-if="engine.clearances.length" aria-labelledby="clearances">
            <h2 id="clearances" class="border-b border-ink pb-1 text-xl font-semibold">{{ t('common-clearances') }}</h2>
            <ClearanceLines :lines="engine.clearances" :build="build" />
          </section>
          <OutsideList :engine="engine" :act="record" />
          <PlanVersion :build="build" :engine="engine" :act="record" />
          <LubricantPolicy :build="build" :engine="engine" @changed="refetch()" />
          <DecisionRule :build="build" :engine="engine" @changed="refetch()" />
          <section v-if="settled.length" aria-labelledby="findings">
            <h2 id="findings" class="border-b border-ink pb-1 text-xl font-semibold">
              {{ t('engine-problems-closed') }}
            </h2>
            <FindingList class="mt-2" :findings="settled" :act="record" />
          </section>
          <section v-if="engine.parts.length" aria-labelledby="parts">
            <h2 id="parts" class="border-b border-ink pb-1 text-xl font-semibold">{{ t('common-parts') }}</h2>
            <ul>
              <li
                v-for="slot in engine.parts"
                :key="slot.id"
                class="grid grid-cols-[9.5rem_1fr] gap-x-3 border-b border-rule py-1"
              >
                <span>{{ slot.name }}</span>
                <span v-if="slot.part">
                  <RouterLink
                    v-if="slot.part.serial"
                    :to="`/parts/${encodeURIComponent(slot.part.serial)}`"
                    class="underline-offset-4 hover:underline"
                    >{{ slot.part.serial }}</RouterLink
                  >
                  <template v-else>{{ slot.part.reference }}</template>
                  <span class="text-dim">{{ slot.part.batch && t('engine-batch', { batch: slot.part.batch }) }}</span>
                </span>
                <RouterLink
                  v-else
                  :to="`/engines/${build}/bench/${slot.operation}`"
                  class="text-dim underline-offset-4 hover:underline"
                  >{{ t('common-open') }}</RouterLink
                >
              </li>
            </ul>
          </section>
        </div>
      </div>
    </template>
  </main>
</template>
