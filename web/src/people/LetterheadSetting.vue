<script setup lang="ts">
// What stands at the head of build sheets, work orders, parts lists and labels.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive, ref, watch } from 'vue'
import { api, take, type Schemas } from '../api/client'
import PictureField from '../ui/PictureField.vue'
import TextField from '../ui/TextField.vue'
import { useAsk } from './useAsk'
import { t } from './texts'

const client = useQueryClient()
const { data } = useQuery({
  queryKey: ['letterhead'],
  queryFn: async () => take(await api.GET('/api/letterhead')),
})
const { wrong, error, busy, ask } = useAsk()
const form = reactive<{ name: string; address: string; logo: Schemas['Picture'] | null }>({
  name: '',
  address: '',
  logo: null,
})
const message = ref('')
watch(data, (set) => set && Object.assign(form, { logo: null, ...set }), { immediate: true })

async function save() {
  message.value = ''
  if (!(await ask(async () => take(await api.PUT('/api/letterhead', { body: form }))))) return
  message.value = t('people-saved-papers-that-are-printed-from')
  await client.invalidateQueries({ queryKey: ['letterhead'] })
  await client.invalidateQueries({ queryKey: ['build'] })
}
</script>

<template>
  <section data-test="letterhead-setting">
    <h2 class="text-2xl font-semibold">{{ t('people-letterhead') }}</h2>
    <p class="text-dim">{{ t('people-name-address-and-logo-on-build') }}</p>
    <form class="mt-3 grid max-w-xl gap-3" @submit.prevent="save">
      <TextField
        v-model="form.name"
        :label="t('people-name-of-the-shop')"
        name="letterhead-name"
        autocomplete="organization"
        :wrong="wrong.name"
      />
      <label
        ><span class="label-text">{{ t('people-address-phone-email-up-to-six') }}</span
        ><textarea
          v-model="form.address"
          class="field mt-1"
          rows="4"
          name="letterhead-address"
          :aria-invalid="!!wrong.address"
        /><span v-if="wrong.address" class="font-semibold text-wrong" role="alert">{{ wrong.address }}</span></label
      >
      <PictureField v-model="form.logo" />
      <div class="flex flex-wrap items-center gap-4">
        <button class="key" :disabled="busy" data-test="save-letterhead">{{ t('common-save') }}</button>
        <p role="status" class="font-semibold">{{ message }}</p>
        <p v-if="error" class="font-semibold text-wrong" role="alert">{{ error }}</p>
      </div>
    </form>
  </section>
</template>
