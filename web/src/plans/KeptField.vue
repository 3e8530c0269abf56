<script setup lang="ts">
// A field that keeps what is typed when it is left. What comes from elsewhere meanwhile does not go over what is being
// typed, and what was refused stays, with why.
import { useLocalStorage } from '@vueuse/core'
import { ref, watch } from 'vue'
import { t } from './texts'

defineOptions({ inheritAttrs: false })
const props = defineProps<{ value: string | number; keep: (text: string) => Promise<string> | string }>()
const typed = ref(String(props.value))
const at = ref(false)
const error = ref('')
let sending = 0
watch(
  () => props.value,
  (now) => {
    if (!at.value && !sending && !error.value) typed.value = String(now)
  },
)
async function give() {
  if (typed.value === String(props.value)) return void (error.value = '')
  sending++
  error.value = await props.keep(typed.value)
  sending--
  if (!error.value && !at.value && !sending) typed.value = String(props.value)
}
function leave() {
  at.value = false
  if (!sending && !error.value) typed.value = String(props.value)
}
/** A result that was taken from a calculation. */
const taken = useLocalStorage('rigore.taken', '')
function put() {
  typed.value = taken.value
  taken.value = ''
  void give()
}
function restore() {
  typed.value = String(props.value)
  error.value = ''
}
</script>

<template>
  <input
    v-model="typed"
    v-bind="$attrs"
    autocomplete="off"
    :aria-invalid="!!error"
    @focus="at = true"
    @change="give"
    @blur="leave"
    @keydown.esc="restore"
  />
  <button v-if="taken && at && taken !== typed" type="button" class="quiet-key ml-2" @mousedown.prevent="put">
    {{ t('plans-paste', { taken }) }}
  </button>
  <span v-if="error" class="block font-semibold text-wrong" role="alert">{{ error }}</span>
</template>
