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
  { value: 'mend', name: 'Mend it', hint: 'An insert goes in' },
  { value: 'change', name: 'Change it', hint: 'Another part goes in' },
  { value: 'accept', name: 'Accept it', hint: 'It stays as it is' },
] as const
const decision = ref<Schemas['FindingDecision']>('mend')
const looks = [
  { value: 'right', name: 'It is right' },
  { value: 'wrong', name: 'Not right yet' },
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
    error.value = props.decides ? 'Say why, or how, in a few words' : 'Say what is seen, in a few words'
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
  <SheetDialog open :title="decides ? 'What is done about it' : 'How it looks now'" @close="emit('close')">
    <p class="mt-2">
      <span class="font-semibold">{{ finding.name }}:</span> {{ finding.text }}
    </p>
    <form class="mt-4 grid gap-4" @submit.prevent="give">
      <ChoiceKeys v-if="decides" v-model="decision" :options="decisions" label="What is done" test="decide" />
      <ChoiceKeys v-else v-model="look" :options="looks" label="Whether it is right" test="look" />
      <TextField
        v-model="text"
        :label="decides ? 'Why, and how' : 'What is seen'"
        name="text"
        :placeholder="hint"
        :aria-invalid="!!error"
      />
      <PictureField v-if="!decides" v-model="picture" />
      <DialogActions
        :action="decides ? 'Decide' : 'Record it'"
        :error="error"
        :disabled="busy"
        test="give-step"
        @close="emit('close')"
      />
    </form>
  </SheetDialog>
</template>
