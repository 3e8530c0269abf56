<script setup lang="ts">
// Whoever signs, or changes who may do what, proves by their own PIN or password that they are at the screen.
import { ref } from 'vue'
import { api, take } from '../api/client'
import { asking, choosing, session } from '../api/session'
import SheetDialog from '../ui/SheetDialog.vue'
import ErrorText from '../ui/ErrorText.vue'
import TextField from '../ui/TextField.vue'
import { useAsk } from './useAsk'
import { t } from './texts'

const { error, kind, busy, ask } = useAsk()
const secret = ref('')
async function give() {
  const done = await ask(async () => take(await api.POST('/api/session/confirm', { body: { secret: secret.value } })))
  secret.value = ''
  if (done) asking.value?.answer(true)
}
function choose() {
  asking.value?.answer(false)
  choosing.value = true
}
</script>

<template>
  <SheetDialog open :title="t('people-confirm-it-is-you')" @close="asking?.answer(false)">
    <p class="mt-1">
      <bdi class="font-semibold">{{ session?.person?.name }}</bdi>{{
        t('people-signing-and-changing-people-benches-and')
      }}
    </p>
    <form class="mt-3 grid gap-3" @submit.prevent="give">
      <TextField
        v-model="secret"
        :label="t('people-your-pin-or-password')"
        type="password"
        name="secret"
        autocomplete="current-password"
      />
      <ErrorText :text="error" />
      <div class="flex flex-wrap justify-end gap-3">
        <button v-if="kind === 'own-secret'" type="button" class="key mr-auto" data-test="choose-own" @click="choose">
          {{ t('common-choose-your-own') }}
        </button>
        <button type="button" class="key" @click="asking?.answer(false)">{{ t('common-cancel') }}</button>
        <button class="key key-main" :disabled="busy" data-test="confirm">{{ t('common-confirm') }}</button>
      </div>
    </form>
  </SheetDialog>
</template>
