<script setup lang="ts">
// The reading that is typed, and what is asked about it.
import { nextTick, ref } from 'vue'
import { takesKeys } from '../ui/focus'
import { t } from './texts'

const props = defineProps<{
  label: string
  placeholder: string
  /** Whether it was asked if the reading is right: sent as it is, it is kept. */
  ask: boolean
  message: string
  /** What it was begun for, where something else is next by now. */
  before: { what: string; now: string } | null
  /** Whether an Enter in the empty field is taken as the answer of the large key. */
  empty: boolean
}>()
const emit = defineEmits<{ record: []; answer: []; clear: []; aim: [] }>()
const text = defineModel<string>({ required: true })
const field = ref<HTMLInputElement>()

function enter(event: KeyboardEvent) {
  if (!props.empty) return
  event.preventDefault()
  if (!event.repeat) emit('answer')
}

function focus() {
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

takesKeys(field, enter)
defineExpose({ focus })
</script>

<template>
  <form class="flex gap-2" @submit.prevent="$emit('record')">
    <label class="grow">
      <span class="sr-only">{{ label }}</span>
      <input
        ref="field"
        v-model="text"
        name="reading"
        class="field min-h-14 text-2xl"
        :class="ask && 'border-wrong'"
        :aria-invalid="ask"
        inputmode="decimal"
        autocomplete="off"
        :placeholder="placeholder"
        @keydown.esc="$emit('clear')"
        @keydown.enter="enter"
      />
    </label>
    <button type="submit" class="key min-h-14 whitespace-nowrap" :disabled="!text.trim()">
      {{ ask ? t('bench-record-anyway') : t('bench-record') }}
    </button>
  </form>
  <div v-if="before && !ask" class="grid grid-cols-2 gap-2" data-test="before">
    <p class="col-span-2 text-lg font-semibold">
      {{ t('bench-you-began-typing-for-is-next', { what: before.what, now: before.now }) }}
    </p>
    <button class="key min-h-12" data-test="for-next" @click="$emit('aim')">
      {{ t('bench-record-for', { now: before.now }) }}
    </button>
    <button class="key min-h-12" data-test="let-go" @click="($emit('clear'), focus())">
      {{ t('bench-clear-it') }}
    </button>
  </div>
  <p v-if="ask" role="alert" class="said-wrong text-lg" data-test="asked">{{ message }}</p>
</template>
