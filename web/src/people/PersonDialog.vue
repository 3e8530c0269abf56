<script setup lang="ts">
// Who is at work: another person by a tap, one's own password and PIN, signing out.
import { reactive, ref } from 'vue'
import { changeSecrets, choosing, session, signOut } from '../api/session'
import SheetDialog from '../ui/SheetDialog.vue'
import ErrorText from '../ui/ErrorText.vue'
import TextField from '../ui/TextField.vue'
import SignIn from './SignIn.vue'
import { useAsk } from './useAsk'
import { t } from './texts'

const emit = defineEmits<{ close: [] }>()
const { wrong, error, busy, ask } = useAsk()
const own = ref(choosing.value)
const form = reactive({ current: '', password: '', pin: '' })
async function keep() {
  const done = await ask(() =>
    changeSecrets({ current: form.current, password: form.password || undefined, pin: form.pin || undefined }),
  )
  if (done) emit('close')
}
const out = (everywhere: boolean) => ask(() => signOut(everywhere)).then((done) => done && emit('close'))
</script>

<template>
  <SheetDialog
    open
    :title="own ? t('people-your-password-and-pin') : t('people-who-is-at-work')"
    @close="emit('close')"
  >
    <form v-if="own" class="mt-3 grid gap-3" @submit.prevent="keep">
      <p v-for="of in session?.set_by_others" :key="of.secret" class="font-semibold">
        <bdi>{{ of.by }}</bdi> {{ t('people-has-set-your-choose-your-own', { secret: of.secret }) }}
      </p>
      <TextField
        v-model="form.current"
        :label="t('people-current-password-or-pin')"
        type="password"
        name="current"
        autocomplete="current-password"
        :wrong="wrong.current"
      />
      <TextField
        v-model="form.password"
        :label="t('people-new-password-optional')"
        type="password"
        name="new-password"
        autocomplete="new-password"
        :wrong="wrong.password"
      />
      <TextField
        v-model="form.pin"
        :label="t('people-pin-for-benches-4-to-8')"
        type="password"
        inputmode="numeric"
        name="new-pin"
        autocomplete="off"
        :wrong="wrong.pin"
      />
      <ErrorText :text="error" />
      <div class="flex justify-end gap-3">
        <button type="button" class="key" @click="own = false">{{ t('common-back') }}</button><button
          class="key key-main"
          :disabled="busy"
          data-test="keep-secrets"
        >
          {{ t('common-save') }}
        </button>
      </div>
    </form>
    <template v-else>
      <SignIn within />
      <ErrorText :text="error" />
      <div v-if="!session?.demonstration" class="flex flex-wrap gap-x-5 border-t border-rule pt-2">
        <button class="quiet-key min-h-11" data-test="own-secrets" @click="own = true">
          {{ t('people-your-password-and-pin') }}
        </button>
        <button class="quiet-key min-h-11" data-test="sign-out" @click="out(false)">{{ t('people-sign-out') }}</button>
        <button class="quiet-key min-h-11" @click="out(true)">{{ t('people-sign-out-everywhere') }}</button>
      </div>
      <RouterLink class="quiet-key flex min-h-11 items-center" to="/own" data-test="to-own" @click="emit('close')">{{
        t('common-shop-settings')
      }}</RouterLink>
    </template>
  </SheetDialog>
</template>
