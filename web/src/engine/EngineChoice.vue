<script setup lang="ts">
// Something that a lead has chosen for this engine, and choosing otherwise with a reason.
import { defineAsyncComponent, ref } from 'vue'
import type { Schemas } from '../api/client'
import { Refused } from '../api/client'
import { send, type CommandAction } from '../api/outbox'
import { isLead } from '../api/session'

// It comes when it is opened.
const ReasonDialog = defineAsyncComponent(() => import('../ui/ReasonDialog.vue'))
/** `otherwise` is the command of the other choice, once it has its reason. */
const props = defineProps<{
  build: string
  engine: Schemas['BuildView']
  title: string
  now: string
  action: string
  about: string
  usual: string[]
  name: string
  otherwise: (reason: string) => CommandAction
}>()
const emit = defineEmits<{ changed: [] }>()
const open = ref(false)
const error = ref('')

async function change(reason: string) {
  open.value = false
  error.value = ''
  try {
    await send(props.build, props.engine.seq, props.otherwise(reason))
  } catch (caught) {
    error.value = caught instanceof Refused ? caught.message : String(caught)
  }
  emit('changed')
}
</script>

<template>
  <p>
    <span class="text-dim">{{ title }}:</span>
    {{ now }}
    <button v-if="isLead" class="quiet-key ml-2 py-1" :data-test="name" @click="open = true">{{ action }}</button>
    <span v-if="error" role="alert" class="block font-semibold text-wrong">{{ error }}</span>
  </p>
  <ReasonDialog
    v-if="open"
    open
    :title="title"
    :about="about"
    :action="action"
    :usual="usual"
    @close="open = false"
    @reason="change"
  />
</template>
