<script setup lang="ts">
// By which rule measured values are judged on this engine, and changing it.
import { computed, defineAsyncComponent, ref } from 'vue'
import type { Schemas } from '../api/client'
import { Refused } from '../api/client'
import { send } from '../api/outbox'
import { isLead } from '../api/session'
import { decisionRules, nameOf } from '../ui/decisionRules'

// It comes when it is opened.
const ReasonDialog = defineAsyncComponent(() => import('../ui/ReasonDialog.vue'))
const props = defineProps<{ build: string; engine: Schemas['BuildView'] }>()
const emit = defineEmits<{ changed: [] }>()
const other = computed(() => decisionRules.find((of) => of.value !== props.engine.decision_rule)!)
const open = ref(false)
const error = ref('')

async function change(reason: string) {
  open.value = false
  error.value = ''
  try {
    await send(props.build, props.engine.seq, { type: 'set-decision-rule', decision_rule: other.value.value, reason })
  } catch (caught) {
    error.value = caught instanceof Refused ? caught.message : String(caught)
  }
  emit('changed')
}
</script>

<template>
  <p>
    <span class="text-dim">Measurements judged by</span>
    {{ nameOf(engine.decision_rule) }}
    <button v-if="isLead" class="quiet-key ml-2 py-1" data-test="change-decision-rule" @click="open = true">Use {{ other.name }}</button>
    <span v-if="error" role="alert" class="block font-semibold text-wrong">{{ error }}</span>
  </p>
  <ReasonDialog
    v-if="open"
    open
    title="Measurements judged by"
    :about="`By ${other.name} a value is ${other.says}. Every measurement of this engine is judged anew, what was signed included.`"
    :action="`Use ${other.name}`"
    :usual="['Current edition', 'The customer asks for it']"
    @close="open = false"
    @reason="change"
  />
</template>
