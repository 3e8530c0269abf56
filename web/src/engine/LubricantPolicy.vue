<script setup lang="ts">
// What is done on this engine where another lubricant is used than a torque was given for (C-26).
import { computed, defineAsyncComponent, ref } from 'vue'
import type { Schemas } from '../api/client'
import { Refused } from '../api/client'
import { send } from '../api/outbox'
import { isLead } from '../api/session'

// It comes when it is opened.
const ReasonDialog = defineAsyncComponent(() => import('../ui/ReasonDialog.vue'))
const props = defineProps<{ build: string; engine: Schemas['BuildView'] }>()
const emit = defineEmits<{ changed: [] }>()
const converts = computed(() => props.engine.lubricants === 'convert')
const open = ref(false)
const error = ref('')

async function change(reason: string) {
  open.value = false
  error.value = ''
  try {
    await send(props.build, props.engine.seq, { type: 'set-policy', lubricants: converts.value ? 'as-specified' : 'convert', reason })
  } catch (caught) {
    error.value = caught instanceof Refused ? caught.message : String(caught)
  }
  emit('changed')
}
</script>

<template>
  <p>
    <span class="text-dim">Where another lubricant is used:</span>
    {{ converts ? 'torques are converted' : 'only as specified' }}
    <button v-if="isLead" class="quiet-key ml-2 py-1" data-test="change-policy" @click="open = true">{{ converts ? 'Only as specified' : 'Convert' }}</button>
    <span v-if="error" role="alert" class="block font-semibold text-wrong">{{ error }}</span>
  </p>
  <ReasonDialog
    v-if="open"
    open
    title="Where another lubricant is used"
    :about="converts ? 'Torques will stay as they are, and a lead has to stand for the other lubricant. What was said before stays as it was.' : 'Torques will be converted at equal clamp load. What was said before stays as it was; say it again at the bench to have it converted.'"
    :action="converts ? 'Only as specified' : 'Convert'"
    :usual="['The owner asks for it', 'As the maker of the bolts says']"
    @close="open = false"
    @reason="change"
  />
</template>
