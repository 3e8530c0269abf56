<script setup lang="ts">
// Says something of a part, or of one piece of a set: a finding, work that was done on it, that it is scrap. It is
// kept in the record of the engine that it was in last.
import { computed, ref } from 'vue'
import { Refused, type Schemas } from '../api/client'
import { send } from '../api/outbox'
import SheetDialog from '../ui/SheetDialog.vue'
import DialogActions from '../ui/DialogActions.vue'
import ChoiceKeys from '../ui/ChoiceKeys.vue'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const props = defineProps<{ history: Schemas['PartHistory']; piece: Schemas['PieceHistory'] }>()
const emit = defineEmits<{ close: []; said: [] }>()
const kinds: { value: Schemas['PartRemarkKind']; name: string; hint: string }[] = [
  { value: 'finding', name: t('parts-problem-found'), hint: t('parts-a-nick-at-the-radius') },
  { value: 'reconditioned', name: t('parts-reconditioned'), hint: t('parts-polished-crack-tested-resized') },
  { value: 'scrapped', name: t('parts-scrapped'), hint: t('parts-the-thread-is-pulled') },
]
const piece = ref(props.piece.piece)
const kind = ref<Schemas['PartRemarkKind']>('finding')
const text = ref('')
const error = ref('')
const busy = ref(false)
const last = computed(() => props.history.pieces.find((of) => of.piece === piece.value)?.lived.at(-1))

async function give() {
  if (text.value.trim().length < 3) {
    error.value = t('parts-describe-it-in-a-few-words')
    return
  }
  if (!last.value || busy.value) return
  busy.value = true
  const { build, life } = last.value
  try {
    await send(build, 0, {
      type: 'remark-part',
      operation: life.operation,
      slot: life.slot,
      piece: piece.value,
      kind: kind.value,
      text: text.value,
    })
    emit('said')
    emit('close')
  } catch (caught) {
    error.value = caught instanceof Refused ? caught.message : String(caught)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <SheetDialog open :title="t('parts-note-on', { serial: history.serial })" @close="emit('close')">
    <form class="mt-3 grid gap-4" @submit.prevent="give">
      <label v-if="history.pieces.length > 1">
        <span class="label-text">{{ t('parts-piece') }}</span>
        <select v-model="piece" class="field mt-1" name="piece">
          <option v-for="of in history.pieces" :key="of.piece" :value="of.piece">
            {{ of.piece ? `${of.piece}, ${of.name}` : t('parts-the-whole-set') }}
          </option>
        </select>
      </label>
      <fieldset>
        <legend class="label-text">{{ t('common-kind') }}</legend>
        <ChoiceKeys v-model="kind" class="mt-1" :options="kinds" :label="t('parts-kind-of-note')" test="kind" />
      </fieldset>
      <TextField
        v-model="text"
        :label="t('common-note')"
        name="text"
        :placeholder="kinds.find((of) => of.value === kind)?.hint"
        :aria-invalid="!!error"
      />
      <p v-if="last" class="text-dim">{{ t('parts-recorded-on', { engine: last.engine }) }}</p>
      <DialogActions
        :action="t('parts-add-note')"
        :error="error"
        :disabled="busy"
        test="give-remark"
        @close="emit('close')"
      />
    </form>
  </SheetDialog>
</template>
