<script setup lang="ts">
// What a lead decides about a finding, or how it looks after it was mended or changed.
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import type { CommandAction } from '../api/outbox'
import PictureField from './PictureField.vue'
import SheetDialog from './SheetDialog.vue'
import ChoiceKeys from './ChoiceKeys.vue'
import DialogActions from './DialogActions.vue'
import TextField from './TextField.vue'

const props = defineProps<{
  finding: Schemas['FindingView']
  decides: boolean
  act: (what: CommandAction) => Promise<string>
}>()
const emit = defineEmits<{ close: [] }>()
const decisions = [
  { value: 'mend', name: 'Repair', hint: 'Thread insert' },
  { value: 'change', name: 'Replace', hint: 'Fit another part' },
  { value: 'accept', name: 'Use as is', hint: 'No effect on function' },
] as const
const decision = ref<Schemas['FindingDecision']>('mend')
const looks = [
  { value: 'right', name: 'OK' },
  { value: 'wrong', name: 'Not OK yet' },
] as const
const look = ref<(typeof looks)[number]['value']>('right')
const text = ref('')
const picture = ref<Schemas['Picture'] | null>(null)
const error = ref('')
const busy = ref(false)
const hint = computed(() =>
  props.decides ? decisions.find((of) => of.value === decision.value)?.hint : 'A bolt runs in by two fingers',
)

async function give() {
  if (text.value.trim().length < 3) {
    error.value = props.decides ? 'Give the reason, or how it is done' : 'Describe the result of the inspection'
    return
  }
  busy.value = true
  const { seq } = props.finding
  const refused = await props.act(
    props.decides
      ? { type: 'decide-finding', seq, decision: decision.value, reason: text.value }
      : { type: 'look-again', seq, right: look.value === 'right', text: text.value, picture: picture.value },
  )
  busy.value = false
  if (refused) error.value = refused
  else emit('close')
}
</script>

<template>
  <SheetDialog open :title="decides ? 'Decision' : 'Inspection'" @close="emit('close')">
    <p class="mt-2">
      <span class="font-semibold">{{ finding.name }}:</span> {{ finding.text }}
    </p>
    <form class="mt-4 grid gap-4" @submit.prevent="give">
      <ChoiceKeys v-if="decides" v-model="decision" :options="decisions" label="Decision" test="decide" />
      <ChoiceKeys v-else v-model="look" :options="looks" label="Result" test="look" />
      <TextField
        v-model="text"
        :label="decides ? 'Reason, or how' : 'Result in words'"
        name="text"
        :placeholder="hint"
        :aria-invalid="!!error"
      />
      <PictureField v-if="!decides" v-model="picture" />
      <DialogActions
        :action="decides ? 'Record decision' : 'Record inspection'"
        :error="error"
        :disabled="busy"
        test="give-step"
        @close="emit('close')"
      />
    </form>
  </SheetDialog>
</template>
