<script setup lang="ts">
// What is open in the operation in hand, and what settles it.
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import type { Do } from '../api/outbox'
import ReasonDialog from '../ui/ReasonDialog.vue'
import StateMark from '../ui/StateMark.vue'
import { useHand } from './hand'
import { say } from '../ui/units'

type Matter = Schemas['Issue']
type Remedy = Schemas['Remedy']
defineProps<{ matters: Matter[] }>()
const { act } = useHand()

/** What is done about a finding stands with the finding. */
type Here = Exclude<Remedy, 'decide' | 'look-again'>
const words: Record<Here, { key: string; action: string; usual: string[] }> = {
  void: { key: 'Wrong entry', action: 'Void it', usual: ['Typed wrong', 'Wrong fastener'] },
  loosen: { key: 'Loosened', action: 'Record it loosened', usual: ['Over-pulled', 'Repeat in order'] },
  replace: { key: 'Replaced', action: 'Record it replaced', usual: ['Over-pulled'] },
  accept: { key: 'Accept', action: 'Accept it', usual: [] },
  'take-out': { key: 'It is out', action: 'Record it taken out', usual: [] },
  further: {
    key: 'Pull further',
    action: 'Let it go up to yield',
    usual: ['Only this bolt is at hand', 'Its strength was measured'],
  },
}
const here = (remedies: Remedy[]) => remedies.filter((remedy): remedy is Here => remedy in words)
const chosen = ref<{ matter: Matter; remedy: Here } | null>(null)

/** What needs no reason is done at once. */
function choose(matter: Matter, remedy: Here) {
  if (remedy === 'take-out') void act({ type: remedy, operation: matter.operation, seq: matter.seq })
  else chosen.value = { matter, remedy }
}

async function settle(reason: string, other: string) {
  if (!chosen.value) return
  const { matter, remedy } = chosen.value
  const { seq, operation, joint, subject } = matter
  const fastener = matter.fastener ?? ''
  const what: Do =
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
              with: remedy === 'replace' ? other || 'a new one' : null,
              reason,
            }
  chosen.value = null
  await act(what)
}
</script>

<template>
  <section aria-label="Open matters" class="mt-3 grid gap-2 border-l-4 border-wrong pl-3" data-test="matters">
    <div
      v-for="matter in matters"
      :key="`${matter.seq}${say(matter.what)}`"
      class="flex flex-wrap items-center gap-x-3 gap-y-1"
    >
      <StateMark status="held" />
      <p class="text-lg">
        <span class="font-semibold text-wrong">{{ say(matter.what) }}.</span> {{ say(matter.now) }}.
      </p>
      <button
        v-for="remedy in here(matter.remedies)"
        :key="remedy"
        class="key min-h-11 py-1"
        @click="choose(matter, remedy)"
      >
        {{ words[remedy].key }}
      </button>
    </div>
    <ReasonDialog
      :open="!!chosen"
      :title="chosen ? words[chosen.remedy].key : ''"
      :about="say(chosen?.matter.what)"
      :action="chosen ? words[chosen.remedy].action : ''"
      :usual="chosen ? words[chosen.remedy].usual : []"
      :replaces="chosen?.remedy === 'replace'"
      @close="chosen = null"
      @reason="settle"
    />
  </section>
</template>
