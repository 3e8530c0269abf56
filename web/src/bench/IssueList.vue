<script setup lang="ts">
// What is open in the operation in hand, and what settles it.
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import type { CommandAction } from '../api/outbox'
import ReasonDialog from '../ui/ReasonDialog.vue'
import StateMark from '../ui/StateMark.vue'
import { useHand } from './hand'
import { say } from '../ui/units'
import { t } from './texts'

type Issue = Schemas['Issue']
type Remedy = Schemas['Remedy']
defineProps<{ issues: Issue[] }>()
const { act } = useHand()

/** What is done about a finding stands with the finding. */
type Here = Exclude<Remedy, 'decide' | 'look-again'>
const words: Record<Here, { key: string; action: string; usual: string[] }> = {
  void: {
    key: t('common-void'),
    action: t('common-void'),
    usual: [t('bench-typed-wrong'), t('common-wrong-fastener')],
  },
  loosen: {
    key: t('bench-loosened'),
    action: t('bench-record-as-loosened'),
    usual: [t('bench-over-tightened'), t('bench-repeat-in-sequence')],
  },
  replace: { key: t('bench-replaced'), action: t('bench-record-as-replaced'), usual: [t('bench-over-tightened')] },
  accept: { key: t('bench-approve'), action: t('bench-approve'), usual: [] },
  'take-out': { key: t('bench-removed'), action: t('bench-record-as-removed'), usual: [] },
  further: {
    key: t('bench-pull-further'),
    action: t('bench-allow-up-to-yield'),
    usual: [t('bench-only-this-bolt-is-available'), t('bench-its-strength-was-measured')],
  },
}
const here = (remedies: Remedy[]) => remedies.filter((remedy): remedy is Here => remedy in words)
const chosen = ref<{ issue: Issue; remedy: Here } | null>(null)

/** What needs no reason is done at once. */
function choose(issue: Issue, remedy: Here) {
  if (remedy === 'take-out') void act({ type: remedy, operation: issue.operation, seq: issue.seq })
  else chosen.value = { issue, remedy }
}

async function settle(reason: string, other: string) {
  if (!chosen.value) return
  const { issue, remedy } = chosen.value
  const { seq, operation, joint, subject } = issue
  const fastener = issue.fastener ?? ''
  const what: CommandAction =
    remedy === 'void'
      ? { type: remedy, seq, reason }
      : remedy === 'accept'
        ? { type: remedy, seq, subject, reason }
        : remedy === 'further'
          ? { type: 'allow-further', operation, joint, fastener, reason }
          : {
              type: 'loosen',
              operation,
              joint,
              fastener,
              replaced: remedy === 'replace',
              with: remedy === 'replace' ? other || t('bench-a-new-one') : null,
              reason,
            }
  chosen.value = null
  await act(what)
}
</script>

<template>
  <section
    :aria-label="t('common-open-issues')"
    class="mt-3 grid gap-2 border-l-4 border-wrong pl-3"
    data-test="issues"
  >
    <div
      v-for="issue in issues"
      :key="`${issue.seq}${say(issue.text)}`"
      class="flex flex-wrap items-center gap-x-3 gap-y-1"
    >
      <StateMark status="held" />
      <p class="text-lg">
        <span class="font-semibold text-wrong">{{ say(issue.text) }}.</span> {{ say(issue.to_do) }}.
      </p>
      <button
        v-for="remedy in here(issue.remedies)"
        :key="remedy"
        class="key min-h-11 py-1"
        @click="choose(issue, remedy)"
      >
        {{ words[remedy].key }}
      </button>
    </div>
    <ReasonDialog
      :open="!!chosen"
      :title="chosen ? words[chosen.remedy].key : ''"
      :about="say(chosen?.issue.text)"
      :action="chosen ? words[chosen.remedy].action : ''"
      :usual="chosen ? words[chosen.remedy].usual : []"
      :replaces="chosen?.remedy === 'replace'"
      @close="chosen = null"
      @reason="settle"
    />
  </section>
</template>
