<script setup lang="ts">
// Findings with what became of them, and what is to be done next about each.
import { defineAsyncComponent, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '../api/client'
import type { CommandAction } from '../api/outbox'
import { isLead } from '../api/session'
import { pictureUrl } from './pictures'
import StateMark from './StateMark.vue'
import { dated, when } from './units'
import { t } from './texts'

// They come when they are opened.
const FindingStepDialog = defineAsyncComponent(() => import('./FindingStepDialog.vue'))
const ReasonDialog = defineAsyncComponent(() => import('./ReasonDialog.vue'))
// It stands with its dialogs: what is asked of it from outside goes to the list.
defineOptions({ inheritAttrs: false })
const route = useRoute()
/** The finding whose joints to take apart are shown. */
const over = ref<number | null>(null)
const props = defineProps<{
  findings: Schemas['FindingView'][]
  /** Records something and gives why it was refused; left out where nothing can be recorded. */
  act?: (what: CommandAction) => Promise<string>
}>()
const chosen = ref<Schemas['FindingView'] | null>(null)
const wrong = ref<Schemas['FindingView'] | null>(null)
async function voidIt(reason: string) {
  const seq = wrong.value?.seq
  wrong.value = null
  if (seq && props.act) await props.act({ type: 'void', seq, reason })
}
const words = {
  open: t('ui-lead-decision-needed'),
  mend: t('ui-to-be-repaired-then-inspected'),
  change: t('ui-to-be-replaced-then-inspected'),
  settled: t('ui-settled'),
} as const
const at = (iso: string) => (props.act ? when(iso) : dated(iso))
</script>

<template>
  <ul v-bind="$attrs" class="grid gap-3" data-test="findings">
    <li
      v-for="finding in findings"
      :key="finding.seq"
      class="flex break-inside-avoid flex-wrap items-start gap-x-4 gap-y-2"
      :data-test="`finding-${finding.seq}`"
      :data-standing="finding.standing"
    >
      <StateMark :status="finding.standing === 'settled' ? 'done' : 'held'" class="mt-0.5" />
      <div class="min-w-0 grow basis-64">
        <p class="text-lg">
          <span class="font-semibold" :class="finding.standing !== 'settled' && 'text-wrong'">{{ finding.name }}:</span>
          {{ finding.text }}
        </p>
        <p class="text-dim">
          {{ finding.by.name }}, {{ at(finding.at) }}, {{ words[finding.standing]
          }}<template v-if="finding.holds_name">{{ t('ui-stops', { holds_name: finding.holds_name }) }}</template>
        </p>
        <ol v-if="finding.steps.length" class="mt-1 border-l-2 border-rule pl-3">
          <li v-for="step in finding.steps" :key="step.seq" :class="step.voided && 'line-through opacity-60'">
            <span class="font-semibold">{{ step.what }}</span>: {{ step.text }}
            <span class="text-dim">{{ step.by }}, {{ at(step.at) }}</span>
            <a v-if="step.picture" :href="pictureUrl(step.picture)" target="_blank" class="ml-2 underline">{{
              t('ui-picture')
            }}</a>
          </li>
        </ol>
        <div v-if="act && finding.standing !== 'settled'" class="mt-2 flex flex-wrap gap-3">
          <button
            v-if="finding.standing === 'open' && isLead"
            class="key min-h-11 py-1"
            data-test="decide"
            @click="chosen = finding"
          >
            {{ t('ui-decide') }}
          </button>
          <button
            v-else-if="finding.standing !== 'open'"
            class="key min-h-11 py-1"
            data-test="look-again"
            @click="chosen = finding"
          >
            {{ t('ui-record-inspection') }}
          </button>
          <button
            v-if="finding.apart.length"
            class="quiet-key px-2 py-1"
            :aria-expanded="over === finding.seq"
            data-test="apart"
            @click="over = over === finding.seq ? null : finding.seq"
          >
            {{ t('common-take-joint-apart') }}
          </button>
          <button
            class="quiet-key px-2 py-1"
            :aria-label="t('common-void-entry', { seq: finding.seq })"
            @click="wrong = finding"
          >
            {{ t('common-void') }}
          </button>
        </div>
        <div v-if="act && over === finding.seq" class="mt-2 flex flex-wrap gap-3">
          <RouterLink
            v-for="of in finding.apart"
            :key="of.joint"
            class="key min-h-11 py-1"
            :data-test="`apart-${of.joint}`"
            :to="{
              name: 'bench',
              params: { build: route.params.build, operation: of.operation },
              query: { apart: of.joint, why: finding.text },
            }"
            >{{ t('ui-take-apart', { name: of.name }) }}</RouterLink
          >
        </div>
      </div>
      <a v-if="finding.picture" :href="pictureUrl(finding.picture)" target="_blank" class="shrink-0">
        <img
          :src="pictureUrl(finding.picture)"
          :alt="t('ui-picture-of', { place: finding.name, problem: finding.text })"
          class="max-h-32 max-w-52 border border-rule"
          loading="lazy"
        />
      </a>
    </li>
  </ul>
  <FindingStepDialog
    v-if="chosen && act"
    :finding="chosen"
    :decides="chosen.standing === 'open'"
    :act="act"
    @close="chosen = null"
  />
  <ReasonDialog
    v-if="wrong"
    open
    :title="t('common-void')"
    :about="t('ui-it-stays-on-the-record-and', { place: wrong.name, problem: wrong.text })"
    :action="t('common-void')"
    :usual="[t('common-entered-by-mistake'), t('common-wrong-fastener')]"
    @close="wrong = null"
    @reason="voidIt"
  />
</template>
