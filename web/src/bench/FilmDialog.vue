<script setup lang="ts">
// Says what the fasteners in hand turn on: one tap, a reason where it is not what the plan asks for.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import SheetDialog from '../ui/SheetDialog.vue'
import DialogActions from '../ui/DialogActions.vue'
import { useHand } from './hand'
import { t } from './texts'

const props = defineProps<{ film: Schemas['LubricantView'] }>()
const emit = defineEmits<{ close: [] }>()
const { bench, busy, act, said } = useHand()

const { data: known } = useQuery({
  queryKey: ['lubricants'],
  queryFn: async () => take(await api.GET('/api/lubricants')),
})
const { data: frictions } = useQuery({
  queryKey: ['friction'],
  queryFn: async () => take(await api.GET('/api/friction')),
})
const [onThread, underHead] = props.film.used_keys
const thread = ref(onThread!)
const bearing = ref(underHead!)
const apart = ref(onThread !== underHead)
const table = ref(true)
const pulledToo = ref(false)
const reason = ref('')
const error = ref('')

/** What can be chosen: what the plan asks for first. */
const choices = computed(() => {
  const own = (known.value?.own ?? []).filter((one) => !one.retired)
  const all = [...own, ...(known.value?.generic ?? [])]
  const asked = props.film.asked_keys
  return [...all.filter((one) => asked.includes(one.id)), ...all.filter((one) => !asked.includes(one.id))]
})
const other = computed(() => [thread.value, bearing.value].join() !== props.film.asked_keys.join())
const measured = computed(() =>
  frictions.value?.find(
    (of) => of.fastener === props.film.fastener && of.thread === thread.value && of.bearing === bearing.value,
  ),
)
const USUAL = [
  t('bench-the-specified-one-is-used-up'),
  t('bench-the-bolt-maker-specifies-it'),
  t('bench-only-this-was-available'),
]

function choose(id: string) {
  thread.value = id
  if (!apart.value) bearing.value = id
}
function split() {
  apart.value = !apart.value
  if (!apart.value) bearing.value = thread.value
}

async function give() {
  if (other.value && reason.value.trim().length < 3) {
    error.value = t('bench-give-the-reason-for-using-another')
    return
  }
  const { joint, group } = props.film
  const recorded = await act({
    type: 'lubricate',
    operation: bench.value.operation.id,
    joint,
    group,
    thread: thread.value,
    bearing: bearing.value,
    measured: !table.value && !!measured.value?.enough,
    pulled_too: pulledToo.value,
    reason: other.value ? reason.value : '',
  })
  if (recorded) emit('close')
  else error.value = said.value
}
</script>

<template>
  <SheetDialog open :title="t('bench-lubricant-used')" @close="emit('close')">
    <form class="-mx-2 mt-3 grid max-h-[75dvh] gap-4 overflow-y-auto px-2 pt-1" @submit.prevent="give">
      <p class="text-dim">{{ t('bench-specified', { asked: film.asked }) }}</p>
      <fieldset>
        <legend class="label-text">
          {{ apart ? t('common-on-the-thread') : t('bench-on-the-thread-and-under-the') }}
        </legend>
        <div class="mt-1 grid grid-cols-2 gap-2">
          <button
            v-for="one in choices"
            :key="one.id"
            type="button"
            class="key justify-start text-left leading-tight"
            :class="one.id === thread && 'border-4! border-layout'"
            :aria-pressed="one.id === thread"
            :data-test="`film-${one.id}`"
            @click="choose(one.id)"
          >
            {{ one.name }}
          </button>
        </div>
      </fieldset>
      <button type="button" class="quiet-key justify-self-start" :aria-expanded="apart" @click="split">
        {{ apart ? t('bench-same-lubricant-under-the-head') : t('bench-other-lubricant-under-the-head') }}
      </button>
      <label v-if="apart">
        <span class="label-text">{{ t('common-under-the-head-or-nut') }}</span>
        <select v-model="bearing" class="field mt-1" name="bearing">
          <option v-for="one in choices" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select>
      </label>
      <fieldset v-if="measured" class="grid gap-1">
        <legend class="label-text">{{ t('common-friction') }}</legend>
        <label class="flex min-h-11 items-center gap-3"
          ><input v-model="table" type="radio" :value="true" name="friction" class="size-5" />
          {{ t('bench-from-the-table') }}</label
        >
        <label class="flex min-h-11 items-center gap-3" :class="!measured.enough && 'text-dim'">
          <input
            v-model="table"
            type="radio"
            :value="false"
            name="friction"
            class="size-5"
            :disabled="!measured.enough"
            data-test="film-measured"
          />
          <span>
            {{ ' '
            }}{{
              t('bench-measured-here-on-bolts-k', {
                count: measured.count,
                median: measured.median.toFixed(3),
                spread: measured.spread.toFixed(3),
              })
            }}<template v-if="!measured.enough">{{ t('common-too-few-to-use') }}</template>
          </span>
        </label>
      </fieldset>
      <label v-if="film.pulled" class="flex min-h-11 items-center gap-3">
        <input v-model="pulledToo" type="checkbox" name="pulled-too" class="size-5" />
        {{ t('bench-also-used-on-the-fasteners-already') }}
      </label>
      <div v-if="other">
        <label class="label-text" for="film-reason">{{ t('bench-reason-for-using-another-lubricant') }}</label>
        <input id="film-reason" v-model="reason" class="field mt-1" autocomplete="off" />
        <div class="mt-2 flex flex-wrap gap-2">
          <button v-for="text in USUAL" :key="text" type="button" class="key" @click="reason = text">
            {{ text }}
          </button>
        </div>
      </div>
      <p v-if="other" class="font-semibold">
        {{
          film.policy === 'convert'
            ? t('bench-torques-are-converted-at-equal-clamp')
            : t('bench-torques-stay-as-specified-lead-approval')
        }}
      </p>
      <DialogActions
        :action="other ? t('bench-save-lubricant') : t('bench-use-as-specified')"
        :error="error"
        :disabled="busy"
        sticky
        test="film-give"
        @close="emit('close')"
      />
    </form>
  </SheetDialog>
</template>
