<script setup lang="ts">
// A PIN by large keys, for gloves, or typed.
import { useEventListener } from '@vueuse/core'
import { ref, watch } from 'vue'
import ErrorText from '../ui/ErrorText.vue'
import { t } from './texts'

const props = defineProps<{ name: string; error: string; busy: boolean }>()
const emit = defineEmits<{ pin: [pin: string]; back: [] }>()
const typed = ref('')
const put = (digit: string) => typed.value.length < 8 && (typed.value += digit)
const give = () => typed.value.length >= 4 && !props.busy && emit('pin', typed.value)
watch(
  () => props.error,
  (error) => error && (typed.value = ''),
)
useEventListener('keydown', (event) => {
  if (/^\d$/.test(event.key)) put(event.key)
  else if (event.key === 'Backspace') typed.value = typed.value.slice(0, -1)
  else if (event.key === 'Enter') give()
  else if (event.key === 'Escape') emit('back')
  else return
  event.preventDefault()
})
</script>

<template>
  <div class="grid max-w-sm gap-3" role="group" :aria-label="t('people-pin-of', { name })" data-test="pin-pad">
    <p class="text-2xl font-semibold">{{ name }}</p>
    <p
      class="h-10 border-b-2 border-ink text-4xl tracking-[0.4em]"
      :aria-label="t('people-digits-typed', { count: typed.length })"
    >
      {{ '•'.repeat(typed.length) }}
    </p>
    <ErrorText :text="error" />
    <div class="grid grid-cols-3 gap-2">
      <button v-for="digit in '123456789'" :key="digit" type="button" class="key min-h-16 text-2xl" @click="put(digit)">
        {{ digit }}
      </button>
      <button type="button" class="key min-h-16" @click="typed ? (typed = typed.slice(0, -1)) : emit('back')">
        {{ typed ? t('people-delete') : t('common-cancel') }}
      </button>
      <button type="button" class="key min-h-16 text-2xl" @click="put('0')">0</button>
      <button
        type="button"
        class="key key-main min-h-16"
        :disabled="typed.length < 4 || busy"
        data-test="pin-go"
        @click="give"
      >
        {{ t('common-ok') }}
      </button>
    </div>
  </div>
</template>
