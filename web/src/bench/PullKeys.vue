<script setup lang="ts">
// What needs no figure: the large key says that the wrench is set, that it clicked, or what can be seen.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { figure } from '../ui/units'
import type { PullAnswer } from './pullAnswer'
import { t } from './texts'

const props = defineProps<{
  /** The main answer, and others. */
  answer: PullAnswer
  others: PullAnswer[]
  tool: Schemas['ToolFit'] | undefined
  target: Schemas['PullStep']['target']
  /** Whether a key would be taken now. */
  disabled: boolean
  listens: boolean
  /** What was asked about what a key said. */
  question: string
}>()
defineEmits<{ answer: [answer: PullAnswer, note?: Schemas['PullNote']]; meant: [] }>()
const click = computed(() => props.tool?.click ?? null)
const scale = computed(() => props.target.unit)
</script>

<template>
  <p v-if="click && !click.is_set" class="text-xl" data-test="set-first">
    {{ t('bench-set-to', { tool: tool?.name }) }}
    <span class="font-semibold">{{ figure(target.shown, 'torque', scale) }}</span><span
      v-if="click.set_to_nm"
      class="text-dim"
      >{{ t('bench-now-set-to', { set_to_nm: figure(click.set_to_nm, 'torque', scale) }) }}</span
    >
  </p>
  <button
    class="key key-main min-h-16 text-2xl"
    :disabled="disabled"
    data-test="heard"
    :data-in-hand="answer.words"
    :data-listens="listens"
    @click="$emit('answer', answer)"
  >
    {{ answer.words }}
  </button>
  <button
    v-for="other in others"
    :key="other.words"
    class="key min-h-14"
    :disabled="disabled"
    data-test="plain"
    @click="$emit('answer', other)"
  >
    {{ other.words }}
  </button>
  <button
    v-if="answer.does === 'clicked'"
    class="quiet-key self-start py-1"
    :disabled="disabled"
    data-test="unsure-click"
    @click="$emit('answer', answer, 'unsure')"
  >
    {{ t('bench-not-sure-it-clicked') }}
  </button>
  <div v-if="question" class="flex items-center gap-3">
    <p role="alert" class="said-wrong grow text-lg" data-test="unsure">{{ question }}</p>
    <button class="key whitespace-nowrap" @click="$emit('meant')">{{ t('bench-record-anyway') }}</button>
  </div>
</template>
