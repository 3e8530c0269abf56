<script setup lang="ts">
// Something that was found at the bench: what it is on, in words, with a picture (C-41).
import { useSessionStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import PictureField from '../ui/PictureField.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import DialogActions from '../ui/DialogActions.vue'
import ErrorText from '../ui/ErrorText.vue'
import { useHand } from './hand'
import { t } from './texts'

const emit = defineEmits<{ close: [] }>()
const { build, bench, busy, said, act } = useHand()
const about = ref(0)
/** What is typed is there again when the dialog was closed without recording it. */
const text = useSessionStorage(`rigore.problem.${build.value}/${bench.value.operation.id}`, '')
const picture = ref<Schemas['Picture'] | null>(null)
const error = ref('')
const concerns = computed(() => bench.value.concerns)

async function give() {
  const concern = concerns.value[about.value]
  if (text.value.trim().length < 3) error.value = t('bench-describe-the-problem')
  else if (concern) {
    const operation = bench.value.operation.id
    const done = await act({
      type: 'find',
      operation,
      about: concern.about,
      text: text.value,
      picture: picture.value,
    })
    if (done) {
      text.value = ''
      emit('close')
    } else error.value = said.value
  }
}
</script>

<template>
  <SheetDialog open :title="t('bench-report-a-problem')" @close="emit('close')">
    <form class="mt-3 grid gap-4" @submit.prevent="give">
      <label>
        <span class="label-text">{{ t('common-where') }}</span>
        <select v-model="about" class="field mt-1" name="about">
          <option v-for="(concern, at) in concerns" :key="concern.name" :value="at">{{ concern.name }}</option>
        </select>
      </label>
      <label>
        <span class="label-text">{{ t('bench-problem') }}</span>
        <textarea
          v-model="text"
          class="field mt-1"
          name="text"
          rows="3"
          maxlength="500"
          :placeholder="t('bench-the-thread-comes-out-with-the')"
          :aria-invalid="!!error"
        />
      </label>
      <PictureField v-model="picture" />
      <ErrorText :text="error" />
      <p class="text-dim">{{ t('bench-work-on-it-stops-until-a') }}</p>
      <DialogActions :action="t('bench-report-problem')" :disabled="busy" test="give-finding" @close="emit('close')" />
    </form>
  </SheetDialog>
</template>
