<script setup lang="ts">
// Says something of a part, or of one piece of a set: a finding, work that was done on it, that it is scrap. It is
// kept in the record of the engine that it was in last.
import { computed, ref } from 'vue'
import { Refused, type Schemas } from '../api/client'
import { send } from '../api/outbox'
import SheetDialog from '../ui/SheetDialog.vue'

const props = defineProps<{ history: Schemas['History']; piece: Schemas['PieceHistory'] }>()
const emit = defineEmits<{ close: []; said: [] }>()
const kinds: { value: Schemas['Remarked']; name: string; hint: string }[] = [
  { value: 'finding', name: 'Something was found', hint: 'a nick at the radius' },
  { value: 'reconditioned', name: 'It was worked on', hint: 'polished, crack tested, resized' },
  { value: 'scrapped', name: 'It is scrap', hint: 'the thread is pulled' },
]
const piece = ref(props.piece.piece)
const kind = ref<Schemas['Remarked']>('finding')
const text = ref('')
const error = ref('')
const busy = ref(false)
const last = computed(() => props.history.pieces.find((of) => of.piece === piece.value)?.lived.at(-1))

async function give() {
  if (text.value.trim().length < 3) {
    error.value = 'Say in a few words what it is'
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
  <SheetDialog open :title="`Of ${history.serial}`" @close="emit('close')">
    <form class="mt-3 grid gap-4" @submit.prevent="give">
      <label v-if="history.pieces.length > 1">
        <span class="label-text">Which piece</span>
        <select v-model="piece" class="field mt-1" name="piece">
          <option v-for="of in history.pieces" :key="of.piece" :value="of.piece">
            {{ of.piece ? `${of.piece}, ${of.name}` : 'the whole set' }}
          </option>
        </select>
      </label>
      <fieldset>
        <legend class="label-text">What it is</legend>
        <div class="mt-1 flex flex-wrap gap-2">
          <button
            v-for="of in kinds"
            :key="of.value"
            type="button"
            class="key"
            :class="of.value === kind && 'border-4! border-layout'"
            :aria-pressed="of.value === kind"
            :data-test="`kind-${of.value}`"
            @click="kind = of.value"
          >
            {{ of.name }}
          </button>
        </div>
      </fieldset>
      <label>
        <span class="label-text">In words</span>
        <input
          v-model="text"
          class="field mt-1"
          name="text"
          autocomplete="off"
          :placeholder="kinds.find((of) => of.value === kind)?.hint"
          :aria-invalid="!!error"
        />
      </label>
      <p v-if="last" class="text-dim">Kept in the record of {{ last.engine }}.</p>
      <p v-if="error" role="alert" class="font-semibold text-wrong">{{ error }}</p>
      <div class="flex justify-end gap-3">
        <button type="button" class="key" @click="emit('close')">Leave it</button>
        <button type="submit" class="key key-main" :disabled="busy" data-test="give-remark">Keep it</button>
      </div>
    </form>
  </SheetDialog>
</template>
