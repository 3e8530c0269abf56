<script setup lang="ts">
// Coming in: by a tap at the door of the demonstration, by a tap and a PIN at an enrolled bench, by name and password
// anywhere.
import { computed, ref } from 'vue'
import { enter, session, signIn, tapIn } from '../api/session'
import type { Schemas } from '../api/client'
import PinPad from './PinPad.vue'
import TextField from '../ui/TextField.vue'
import { useAsk } from './useAsk'
import { t } from './texts'

defineProps<{ within?: boolean }>()
const { error, busy, ask } = useAsk()
const [name, password] = [ref(''), ref('')]
const chosen = ref<Schemas['Person']>()
const byPassword = ref(false)
const people = computed(() => session.value?.people ?? [])
const door = computed(() => !!session.value?.demonstration)
const roles = { lead: t('people-lead'), bench: t('people-builder'), viewer: t('people-view-only') } as const
function tap(of: Schemas['Person']) {
  if (door.value) void ask(() => enter(of.id))
  else [chosen.value, error.value] = [of, '']
}
const pin = (given: string) => ask(() => tapIn(chosen.value!.id, given))
</script>

<template>
  <component
    :is="within ? 'div' : 'main'"
    class="mx-auto grid w-full max-w-xl content-start gap-4"
    :class="within ? 'pt-2 pb-4' : 'px-4 py-8'"
    data-test="sign-in"
  >
    <h1 v-if="!within" class="text-4xl font-semibold tracking-tight">
      {{ session?.shop ?? (door ? 'Pier Nine' : 'Rigore') }}
    </h1>
    <p v-if="door && !within" class="text-xl">{{ t('people-demonstration-sign-in-as') }}</p>
    <p v-else-if="session?.bench && !within" class="text-xl">
      {{ t('people-who-is-at-work-2', { bench: session.bench }) }}
    </p>
    <template v-if="people.length && !byPassword">
      <PinPad v-if="chosen" :name="chosen.name" :error="error" :busy="busy" @pin="pin" @back="chosen = undefined" />
      <ul v-else class="grid gap-3">
        <li v-for="of in people" :key="of.id">
          <button
            class="key flex min-h-16 w-full items-baseline justify-between gap-3 text-2xl"
            :disabled="busy"
            :data-test="`person-${of.id}`"
            @click="tap(of)"
          >
            <span class="truncate">{{ of.name }}</span><span class="text-base font-normal text-dim">{{
              roles[of.role]
            }}</span>
          </button>
        </li>
      </ul>
      <button
        v-if="!door"
        class="quiet-key min-h-11 justify-self-start"
        data-test="by-password"
        @click="byPassword = true"
      >
        {{ t('people-by-name-and-password') }}
      </button>
    </template>
    <form v-else-if="!door" class="grid gap-4" @submit.prevent="ask(() => signIn(name, password))">
      <TextField v-model="name" :label="t('people-your-name')" name="name" autocomplete="username" />
      <TextField
        v-model="password"
        :label="t('people-password')"
        type="password"
        name="password"
        autocomplete="current-password"
      />
      <button class="key key-main min-h-14" :disabled="busy" data-test="go-in">{{ t('people-sign-in') }}</button>
      <button
        v-if="people.length"
        type="button"
        class="quiet-key min-h-11 justify-self-start"
        @click="byPassword = false"
      >
        {{ t('people-by-a-tap-and-a-pin') }}
      </button>
    </form>
    <p v-if="error && !chosen" class="font-semibold text-wrong" role="alert">{{ error }}</p>
  </component>
</template>
