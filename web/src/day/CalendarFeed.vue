<script setup lang="ts">
// The address at which other calendars read that of the shop. Whoever has it reads it.
import { computed } from 'vue'
import { api, take } from '../api/client'
import { isLead } from '../api/session'
import { useAsk } from '../people/useAsk'

const props = defineProps<{ path: string | null }>()
const emit = defineEmits<{ changed: [] }>()
const { error, busy, ask } = useAsk()
const address = computed(() => (props.path ? `${location.origin}${props.path}` : ''))
async function done(what: () => Promise<unknown>) {
  if (await ask(what)) emit('changed')
}
const make = () => done(async () => take(await api.POST('/api/day/feed')))
const end = () => done(async () => take(await api.DELETE('/api/day/feed')))
</script>

<template>
  <div class="flex flex-wrap items-end gap-3">
    <label v-if="path" class="min-w-72 grow"><span class="label-text">Address for a phone’s calendar. Whoever has it reads promises, arrivals, cures and calibrations</span><input class="field mt-1" readonly :value="address" data-test="feed" @focus="($event.target as HTMLInputElement).select()" /></label>
    <template v-if="isLead">
      <button class="key" :disabled="busy" data-test="make-feed" @click="make">{{ path ? 'Another address' : 'An address for a phone’s calendar' }}</button>
      <button v-if="path" class="key" :disabled="busy" data-test="end-feed" @click="end">Take it back</button>
    </template>
    <p v-if="error" class="w-full font-semibold text-wrong" role="alert">{{ error }}</p>
  </div>
</template>
