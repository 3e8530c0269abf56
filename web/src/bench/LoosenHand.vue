<script setup lang="ts">
// Loosening: a joint that is taken apart, which fastener comes next (C-17); or a bolt between two steps of a
// climb, with what is left of its stretch (C-24).
import { useEventListener } from '@vueuse/core'
import { ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import { takesKeys, vFocus } from '../ui/focus'
import { unitOf } from '../ui/units'
import { letGo, useHand } from './hand'
import GaugeSelect from './GaugeSelect.vue'
import ReleasedField from './ReleasedField.vue'
import { useStretchGauge } from './useStretchGauge'
import { t } from './texts'

const props = defineProps<{
  step: Schemas['LoosenStep']
  tools: Schemas['ToolFit'][]
  stretchGauges: Schemas['ToolFit'][]
  left: number
}>()
/** A fastener that was tapped instead of the next one. */
const selected = defineModel<string | null>('selected', { required: true })
const { bench, busy, act } = useHand()

/** A bolt between two steps is read with what its stage is read with, a tight one with any gauge of lengths. */
const { gauge } = useStretchGauge(() => (props.step.goes_on ? props.tools : props.stretchGauges))
const stays = ref('')
/** How much shorter it got where the gauge was zeroed on it while it was tight. */
const released = ref('')
const reads = ref(false)
const field = ref<HTMLInputElement>()
takesKeys(field)
watch(
  () => props.step.fastener,
  () => forget(),
)
// Another fastener was tapped: what was read on the one before is not its own.
watch(selected, () => forget())

function forget() {
  stays.value = ''
  released.value = ''
}

async function loose(rest: boolean) {
  const { joint } = props.step
  const fastener = (!rest && selected.value) || props.step.fastener
  const [left, shorter] = [stays.value.trim(), rest ? '' : released.value.trim()]
  const read = left ? { left } : shorter ? { released: shorter } : {}
  const measured = left || shorter ? { ...read, unit: unitOf('clearance'), instrument: gauge.value } : {}
  const recorded = letGo(selected, null)
  if (await act({ type: 'loosen', operation: bench.value.operation.id, joint, fastener, rest, ...measured })) {
    forget()
    recorded()
  }
}

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const at = event.target as HTMLElement
  if (
    event.key !== 'Enter' ||
    event.repeat ||
    event.ctrlKey ||
    event.metaKey ||
    at.closest('button, a, input, [role=dialog]')
  )
    return
  void loose(false)
})
</script>

<template>
  <p class="text-xl text-dim">{{ t('bench-loosen', { group: step.group }) }}</p>
  <p class="far" data-test="fastener">{{ selected ?? step.fastener }}</p>
  <p v-if="selected" class="font-semibold text-wrong">
    {{ t('bench-is-next-is-recorded-as-out', { fastener: step.fastener, selected }) }}
  </p>
  <form v-if="step.goes_on" class="flex flex-col gap-3" @submit.prevent="loose(false)">
    <p class="text-xl" data-test="again">
      {{ t('bench-loosen-it-read-the-remaining-stretch', { lubricant: step.lubricant }) }}
    </p>
    <input
      ref="field"
      v-model="stays"
      v-focus
      name="left"
      class="field min-h-14 text-2xl"
      inputmode="decimal"
      autocomplete="off"
      :readonly="busy"
      :aria-label="t('bench-remaining-stretch')"
      :placeholder="t('bench-remaining-stretch-then-enter', { unit: unitOf('clearance') })"
    />
    <GaugeSelect class="-mt-1" :tools="tools" />
    <button type="submit" class="key key-main min-h-16 text-2xl" :disabled="busy" data-test="loose">
      {{ stays.trim() ? t('bench-record-loose-and-measured') : t('bench-record-loose-not-measured') }}
    </button>
  </form>
  <template v-else>
    <p class="text-xl">{{ t('bench-in-reverse-sequence-a-little-at') }}</p>
    <button v-focus class="key key-main min-h-20 text-3xl" :disabled="busy" data-test="loose" @click="loose(false)">
      {{ t('bench-record-loose') }}
    </button>
    <ReleasedField v-if="reads" v-model="released" :tools="stretchGauges" @keydown.enter.prevent="loose(false)" />
    <button v-else class="quiet-key min-h-11 self-start" data-test="read-released" @click="reads = true">
      {{ t('bench-measure-stretch') }}
    </button>
    <button
      v-if="left > 1 && !selected && !released.trim()"
      class="key"
      :disabled="busy"
      data-test="all-loose"
      @click="loose(true)"
    >
      {{ t('bench-all-that-are-left-are-loose', { left }) }}
    </button>
  </template>
</template>
