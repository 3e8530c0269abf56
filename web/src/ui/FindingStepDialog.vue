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
import { t } from './texts'

const props = defineProps<{
  finding: Schemas['FindingView']
  decides: boolean
  act: (what: CommandAction) => Promise<string>
}>()
const emit = defineEmits<{ close: [] }>()
const decisions = [
  { value: 'mend', name: t('ui-repair'), hint: t('ui-thread-insert') },
  { value: 'change', name: t('common-replace'), hint: t('ui-fit-another-part') },
  { value: 'accept', name: t('ui-use-as-is'), hint: t('ui-no-effect-on-function') },
] as const
const decision = ref<Schemas['FindingDecision']>('mend')
const looks = [
  { value: 'right', name: 'OK' },
  { value: 'wrong', name: t('ui-not-ok-yet') },
] as const
const look = ref<(typeof looks)[number]['value']>('right')
const text = ref('')
const picture = ref<Schemas['Picture'] | null>(null)
const error = ref('')
const busy = ref(false)
const hint = computed(() =>
  props.decides ? decisions.find((of) => of.value === decision.value)?.hint : t('ui-a-bolt-runs-in-by-two'),
)

async function give() {
  if (text.value.trim().length < 3) {
    error.value = props.decides ? t('ui-give-the-reason-or-how-it') : t('ui-describe-the-result-of-the-inspection')
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
  <SheetDialog open :title="decides ? t('ui-decision') : t('ui-inspection')" @close="emit('close')">
    <p class="mt-2">
      <span class="font-semibold">{{ finding.name }}:</span> {{ finding.text }}
    </p>
    <form class="mt-4 grid gap-4" @submit.prevent="give">
      <ChoiceKeys v-if="decides" v-model="decision" :options="decisions" :label="t('ui-decision')" test="decide" />
      <ChoiceKeys v-else v-model="look" :options="looks" :label="t('ui-result')" test="look" />
      <TextField
        v-model="text"
        :label="decides ? t('ui-reason-or-how') : t('ui-result-in-words')"
        name="text"
        :placeholder="hint"
        :aria-invalid="!!error"
      />
      <PictureField v-if="!decides" v-model="picture" />
      <DialogActions
        :action="decides ? t('ui-record-decision') : t('ui-record-inspection')"
        :error="error"
        :disabled="busy"
        test="give-step"
        @close="emit('close')"
      />
    </form>
  </SheetDialog>
</template>
