<script setup lang="ts">
// A picture taken with the device or chosen from it; it is kept by the server as soon as it is there.
import { Camera } from 'lucide-vue-next'
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import { keepPicture, pictureUrl } from './pictures'
import { t } from './texts'

const picture = defineModel<Schemas['Picture'] | null>({ required: true })
const busy = ref(false)
const error = ref('')
let last: File | undefined

async function take(file: File | undefined) {
  if (!file) return
  last = file
  busy.value = true
  error.value = ''
  try {
    picture.value = await keepPicture(file)
  } catch (caught) {
    error.value = caught instanceof Error ? caught.message : String(caught)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-4">
    <img
      v-if="picture"
      :src="pictureUrl(picture)"
      :alt="t('ui-picture-2')"
      class="max-h-36 max-w-full border border-rule"
      data-test="picture-kept"
    />
    <label class="key relative">
      <Camera class="size-5" aria-hidden="true" />
      {{ busy ? t('common-saving') : picture ? t('ui-change-picture') : t('ui-add-picture') }}
      <input
        class="absolute inset-0 opacity-0"
        type="file"
        name="picture"
        accept="image/*"
        :disabled="busy"
        @change="take(($event.target as HTMLInputElement).files?.[0])"
      />
    </label>
    <button v-if="picture" type="button" class="quiet-key" @click="picture = null">{{ t('common-remove') }}</button>
    <p v-if="error" role="alert" class="w-full font-semibold text-wrong">
      {{ error }}.
      <button v-if="last" type="button" class="quiet-key" @click="take(last)">{{ t('ui-try-again') }}</button>
    </p>
  </div>
</template>
