<script setup lang="ts">
// What a lead decides about a finding, or how it looks after it was mended or changed.
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import type { Do } from '../api/outbox'
import PictureField from './PictureField.vue'
import SheetDialog from './SheetDialog.vue'

const props = defineProps<{ finding: Schemas['FindingView']; decides: boolean; act: (what: Do) => Promise<string> }>()
const emit = defineEmits<{ close: [] }>()
const decisions = [
  { value: 'mend', name: 'Mend it', hint: 'An insert goes in' },
  { value: 'change', name: 'Change it', hint: 'Another part goes in' },
  { value: 'accept', name: 'Accept it', hint: 'It stays as it is' },
] as const
const decision = ref<Schemas['FindingDecision']>('mend')
const right = ref(true)
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
      : { type: 'look-again', seq, right: right.value, text: text.value, picture: picture.value },
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
      <div v-if="decides" class="flex flex-wrap gap-2" role="group" aria-label="What is done">
        <button
          v-for="of in decisions"
          :key="of.value"
          type="button"
          class="key"
          :class="of.value === decision && 'border-4! border-layout'"
          :aria-pressed="of.value === decision"
          :data-test="`decide-${of.value}`"
          @click="decision = of.value"
        >
          {{ of.name }}
        </button>
      </div>
      <div v-else class="flex flex-wrap gap-2" role="group" aria-label="Whether it is right">
        <button
          v-for="of in [true, false]"
          :key="String(of)"
          type="button"
          class="key"
          :class="of === right && 'border-4! border-layout'"
          :aria-pressed="of === right"
          :data-test="of ? 'look-right' : 'look-wrong'"
          @click="right = of"
        >
          {{ of ? 'It is right' : 'Not right yet' }}
        </button>
      </div>
      <label>
        <span class="label-text">{{ decides ? 'Why, and how' : 'What is seen' }}</span>
        <input
          v-model="text"
          class="field mt-1"
          name="text"
          autocomplete="off"
          :placeholder="hint"
          :aria-invalid="!!error"
        />
      </label>
      <PictureField v-if="!decides" v-model="picture" />
      <p v-if="error" role="alert" class="font-semibold text-wrong">{{ error }}</p>
      <div class="flex justify-end gap-3">
        <button type="button" class="key" @click="emit('close')">Leave it</button>
        <button type="submit" class="key key-main" :disabled="busy" data-test="give-step">
          {{ decides ? 'Decide' : 'Record it' }}
        </button>
      </div>
    </form>
  </SheetDialog>
</template>
