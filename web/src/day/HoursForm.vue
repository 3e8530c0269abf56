<script setup lang="ts">
// When the shop works, as a lead says it.
import { reactive, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { useAsk } from '../people/useAsk'
import { clock, DAYS, minutesOf } from './dates'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const props = defineProps<{ hours: Schemas['WorkingHours'] }>()
const emit = defineEmits<{ kept: [] }>()
const open = ref(false)
const form = reactive({ from: '', to: '', days: [] as boolean[] })
const { wrong, error, busy, ask } = useAsk()
function change() {
  Object.assign(form, {
    from: clock(props.hours.from_min),
    to: clock(props.hours.to_min % 1440),
    days: [...props.hours.days],
  })
  open.value = true
}
async function keep() {
  const body = { from_min: minutesOf(form.from), to_min: minutesOf(form.to, true), days: form.days }
  if (!(await ask(async () => take(await api.PUT('/api/day/hours', { body }))))) return
  open.value = false
  emit('kept')
}
</script>

<template>
  <button v-if="!open" class="quiet-key justify-self-start py-1" data-test="change-hours" @click="change">
    {{ t('day-change-hours') }}
  </button>
  <form v-else class="flex flex-wrap items-end gap-3" @submit.prevent="keep">
    <TextField v-model="form.from" :label="t('common-from')" type="time" name="from" required />
    <TextField v-model="form.to" :label="t('common-to-2')" type="time" name="to" required :wrong="wrong.to_min" />
    <fieldset class="flex flex-wrap gap-3 py-2">
      <legend class="label-text">{{ t('day-days') }}</legend>
      <label v-for="(name, at) in DAYS" :key="name" class="flex min-h-11 items-center gap-1"
        ><input v-model="form.days[at]" type="checkbox" class="size-5" /> {{ name }}</label
      >
    </fieldset>
    <button class="key key-main" :disabled="busy" data-test="keep-hours">{{ t('common-save') }}</button>
    <button type="button" class="key" @click="open = false">{{ t('common-cancel') }}</button>
    <p v-if="error || wrong.days" class="w-full font-semibold text-wrong" role="alert">
      {{ error || wrong.days }}
    </p>
  </form>
</template>
