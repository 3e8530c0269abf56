<script setup lang="ts">
// A signature asks for its signer's own PIN or password.
import { ref } from 'vue'
import { api, take } from '../api/client'
import { asking, session } from '../api/session'
import SheetDialog from '../ui/SheetDialog.vue'
import SecretField from './SecretField.vue'
import { useAsk } from './useAsk'

const { error, busy, ask } = useAsk()
const secret = ref('')
async function give() {
  const done = await ask(async () => take(await api.POST('/api/session/confirm', { body: { secret: secret.value } })))
  secret.value = ''
  if (done) asking.value?.answer(true)
}
</script>

<template>
  <SheetDialog open :title="`${session?.person?.name}, is it you who signs?`" @close="asking?.answer(false)">
    <form class="mt-3 grid gap-3" @submit.prevent="give">
      <SecretField v-model="secret" label="Your PIN or password" type="password" name="secret" autocomplete="current-password" />
      <p v-if="error" class="font-semibold text-wrong" role="alert">{{ error }}</p>
      <div class="flex justify-end gap-3"><button type="button" class="key" @click="asking?.answer(false)">Leave it</button><button class="key key-main" :disabled="busy" data-test="confirm">Sign</button></div>
    </form>
  </SheetDialog>
</template>
