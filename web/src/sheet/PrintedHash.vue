<script setup lang="ts">
// Whether the hash on a printed sheet is of this engine, and as of which entry.
import { ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { useAsk } from '../people/useAsk'
import { when } from '../ui/units'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const props = defineProps<{ token: string }>()
const { error, busy, ask } = useAsk()
const hash = ref('')
const found = ref<Schemas['PrintedHash']>()
async function check() {
  found.value = undefined
  const path = { token: props.token, hash: hash.value.trim() }
  await ask(async () => (found.value = take(await api.GET('/api/shared/{token}/hashes/{hash}', { params: { path } }))))
}
</script>

<template>
  <details class="no-print mt-6 border-t border-rule pt-2" data-test="printed-hash">
    <summary class="min-h-11 cursor-pointer py-2 font-semibold">{{ t('sheet-check-a-printed-sheet') }}</summary>
    <form class="flex flex-wrap items-end gap-3" @submit.prevent="check">
      <TextField
        v-model="hash"
        class="min-w-72 grow"
        :label="t('sheet-printed-hash-of-the-last-entry')"
        name="printed-hash"
        spellcheck="false"
      />
      <button class="key" :disabled="busy || !hash.trim()">{{ t('sheet-check') }}</button>
    </form>
    <p v-if="found" class="mt-2 font-semibold" role="status">
      {{ t('sheet-it-matches-entry-of-recorded', { seq: found.seq, entries: found.entries, time: when(found.at) })
      }}<template v-if="found.entries > found.seq">
        {{ ' ' }}{{ t('sheet-more-were-recorded-after-it-was', { entries: found.entries - found.seq }) }}</template
      >
    </p>
    <p v-if="error" class="mt-2 font-semibold text-wrong" role="alert">
      {{ t('sheet-it-does-not-match-this-engine', { error }) }}
    </p>
  </details>
</template>
