<script setup lang="ts">
// The first sight of an empty shop: the code that the server printed, what the shop is called, and its first lead.
import { useSessionStorage } from '@vueuse/core'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { found } from '../api/session'
import TextField from '../ui/TextField.vue'
import { useAsk } from './useAsk'
import ErrorText from '../ui/ErrorText.vue'
import { t } from './texts'

const router = useRouter()
const { wrong, error, busy, ask } = useAsk()
/** What is typed survives a reload; the password does not. */
const form = useSessionStorage('rigore-first-run', {
  code: '',
  shop: '',
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  torque_unit: 'N·m',
  length_unit: 'mm',
  name: '',
})
const password = ref('')
async function begin() {
  if (!(await ask(() => found({ ...form.value, password: password.value })))) return
  sessionStorage.removeItem('rigore-first-run')
  void router.push('/')
}
</script>

<template>
  <main class="mx-auto w-full max-w-xl px-4 py-8" data-test="first-run">
    <h1 class="text-4xl font-semibold tracking-tight">{{ t('people-create-shop') }}</h1>
    <p class="mt-2 text-xl text-dim">{{ t('people-the-server-printed-a-code-when') }}</p>
    <form class="mt-6 grid gap-4" @submit.prevent="begin">
      <TextField
        v-model="form.code"
        :label="t('people-code')"
        name="code"
        inputmode="numeric"
        autocomplete="off"
        placeholder="0000-0000"
        :wrong="wrong.code"
      />
      <TextField
        v-model="form.shop"
        :label="t('people-name-of-the-shop')"
        name="shop"
        autocomplete="organization"
        :wrong="wrong.shop"
      />
      <div class="grid gap-4 sm:grid-cols-3">
        <TextField
          v-model="form.zone"
          :label="t('people-time-zone')"
          name="zone"
          autocomplete="off"
          :wrong="wrong.zone"
        />
        <label
          ><span class="label-text">{{ t('people-torque-in') }}</span
          ><select v-model="form.torque_unit" class="field mt-1" name="torque_unit">
            <option v-for="unit in ['N·m', 'lbf·ft', 'lbf·in', 'kgf·m']" :key="unit">{{ unit }}</option>
          </select></label
        >
        <label
          ><span class="label-text">{{ t('people-lengths-in') }}</span
          ><select v-model="form.length_unit" class="field mt-1" name="length_unit">
            <option v-for="unit in ['mm', 'in', 'thou']" :key="unit">{{ unit }}</option>
          </select></label
        >
      </div>
      <TextField
        v-model="form.name"
        :label="t('people-your-name-as-on-the-build')"
        name="name"
        autocomplete="name"
        :wrong="wrong.name"
      />
      <TextField
        v-model="password"
        :label="t('people-password-8-characters-or-more')"
        type="password"
        name="password"
        autocomplete="new-password"
        :wrong="wrong.password"
      />
      <ErrorText :text="error" />
      <button class="key key-main min-h-14" :disabled="busy" data-test="found">{{ t('people-create-shop') }}</button>
    </form>
  </main>
</template>
