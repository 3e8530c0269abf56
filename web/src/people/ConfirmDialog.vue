<script setup lang="ts">
// Whoever signs, or changes who may do what, proves by their own PIN or password that they are at the screen.
import { ref } from 'vue'
import { api, take } from '../api/client'
import { asking, choosing, session } from '../api/session'
import SheetDialog from '../ui/SheetDialog.vue'
import ErrorText from '../ui/ErrorText.vue'
import TextField from '../ui/TextField.vue'
import { useAsk } from './useAsk'

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
  <SheetDialog open title="Confirm it is you" @close="asking?.answer(false)">
    <p class="mt-1">
      <bdi class="font-semibold">{{ session?.person?.name }}</bdi>: signing, and changing people, benches and links,
      needs your PIN or password.
    </p>
    <form class="mt-3 grid gap-3" @submit.prevent="give">
      <TextField
        v-model="secret"
        label="Your PIN or password"
        type="password"
        name="secret"
        autocomplete="current-password"
      />
      <ErrorText :text="error" />
      <div class="flex flex-wrap justify-end gap-3">
        <button v-if="kind === 'own-secret'" type="button" class="key mr-auto" data-test="choose-own" @click="choose">
          Choose your own
        </button>
        <button type="button" class="key" @click="asking?.answer(false)">Cancel</button>
        <button class="key key-main" :disabled="busy" data-test="confirm">Confirm</button>
      </div>
    </form>
  </SheetDialog>
</template>
