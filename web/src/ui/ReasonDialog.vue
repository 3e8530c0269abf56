<script setup lang="ts">
// Asks for a reason before something is voided, accepted or loosened.
import { ref, watch } from 'vue'
import SheetDialog from './SheetDialog.vue'
import DialogActions from './DialogActions.vue'
import { t } from './texts'

/** `replaces` asks which one went in. */
const props = defineProps<{
  open: boolean
  title: string
  about: string
  action: string
  usual: string[]
  replaces?: boolean
}>()
const emit = defineEmits<{ close: []; reason: [reason: string, other: string] }>()
const reason = ref('')
const error = ref('')
/** What it was replaced with; a new one where nothing is written. */
const other = ref('')

/** The server asks for as much; saying so here keeps the dialog open. */
function give() {
  if (reason.value.trim().length < 3) error.value = t('ui-give-a-reason-in-a-few')
  else emit('reason', reason.value, other.value.trim())
}

watch(
  () => props.open,
  (open) => {
    if (!open) return
    reason.value = ''
    other.value = ''
    error.value = ''
  },
)
</script>

<template>
  <SheetDialog :open="open" :title="title" @close="emit('close')">
    <p class="mt-2">{{ about }}</p>
    <form class="mt-4" @submit.prevent="give">
      <label class="label-text" for="reason">{{ t('common-reason') }}</label>
      <input id="reason" v-model="reason" class="field mt-1" autocomplete="off" :aria-invalid="!!error" />
      <p v-if="error" role="alert" class="mt-2 font-semibold text-wrong">{{ error }}</p>
      <div class="mt-3 flex flex-wrap gap-2">
        <button v-for="text in usual" :key="text" type="button" class="key" @click="reason = text">{{ text }}</button>
      </div>
      <slot />
      <template v-if="replaces">
        <label class="label-text mt-4 block" for="went-in">{{ t('ui-replaced-with') }}</label>
        <input
          id="went-in"
          v-model="other"
          class="field mt-1"
          autocomplete="off"
          :placeholder="t('ui-a-new-one-or-a-used')"
        />
      </template>
      <DialogActions :action="action" class="mt-6" @close="emit('close')" />
    </form>
  </SheetDialog>
</template>
