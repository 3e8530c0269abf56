<script setup lang="ts">
// A procedure in one line, in the words of the manual it is copied from: answered while it is typed by what was
// understood, stages, clamp loads and what is doubtful. It is kept by Enter, once all of it was understood.
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import KeepPiece from './KeepPiece.vue'
import FaultList from './FaultList.vue'
import StageTable from './StageTable.vue'
import { t } from './texts'

const props = defineProps<{ draft: string; joint: Schemas['JointPage']; keep: (line: string) => Promise<string> }>()
/** What was kept, as it is written; a line that stages stand for in its own words. */
const kept = computed(
  () =>
    (props.joint.in_one_line || props.joint.stages.some((stage) => stage.open)
      ? props.joint.stages.find((stage) => stage.path.endsWith('.procedure'))?.written
      : props.joint.procedure) ?? '',
)
/** What is typed and not kept yet survives a reload. */
const typed = useLocalStorage<string | null>(`rigore-line-${props.draft}-${props.joint.path}`, null, {
  serializer: { read: JSON.parse, write: JSON.stringify },
})
const line = computed({
  get: () => typed.value ?? kept.value,
  set: (text) => (typed.value = text === kept.value ? null : text),
})
const tried = ref<Schemas['LineTrial']>()
/** Procedures that the shop keeps. */
const { data: library } = useQuery({
  queryKey: ['library'],
  queryFn: async () => take(await api.GET('/api/library')),
})
const lines = computed(() => library.value?.filter((of) => of.kind === 'procedure') ?? [])
const error = ref('')
/** A result that was taken from a calculation. */
const taken = useLocalStorage('rigore.taken', '')
const sent = ref(false)
const input = ref<HTMLInputElement>()

let asked = 0
async function tryIt() {
  const [mine, text] = [++asked, typed.value]
  if (text === null || !text.trim()) return void (tried.value = undefined)
  try {
    const answer = take(
      await api.POST('/api/drafts/{draft}/procedure', {
        params: { path: { draft: props.draft } },
        body: { joint: props.joint.path, line: text },
      }),
    )
    if (mine === asked) [tried.value, error.value] = [answer, '']
  } catch (caught) {
    if (mine === asked)
      error.value = caught instanceof Refused ? caught.message : t('common-no-connection-what-you-typed-is-2')
  }
}
watchDebounced(typed, tryIt, { debounce: 90, immediate: true })
watch(kept, (now) => {
  if (typed.value === now) typed.value = null
})

/** The line cut where something was understood or asked about. */
const pieces = computed(() => {
  const text = line.value
  if (!tried.value) return []
  const marks = [
    ...tried.value.understood.map((at) => ({ at, asks: false })),
    ...tried.value.asks.map((one) => ({ at: one.at, asks: true })),
  ].sort((a, b) => a.at[0]! - b.at[0]!)
  const list: { text: string; as: '' | 'understood' | 'asks' }[] = []
  let last = 0
  for (const { at, asks } of marks) {
    const [from, to] = [Math.max(last, at[0]!), Math.max(last, at[1]!)]
    if (from > last) list.push({ text: text.slice(last, from), as: '' })
    if (to > from) list.push({ text: text.slice(from, to), as: asks ? 'asks' : 'understood' })
    last = to
  }
  if (last < text.length) list.push({ text: text.slice(last), as: '' })
  return list
})
const words = (at: number[]) => line.value.slice(at[0], at[1])
async function keepIt() {
  if (typed.value === null) return
  await tryIt()
  sent.value = true
  if (tried.value?.asks.length) return
  const text = typed.value
  error.value = await props.keep(text)
  if (!error.value && typed.value === text) {
    typed.value = null
    tried.value = undefined
    sent.value = false
    await nextTick()
    const all = [...document.querySelectorAll<HTMLInputElement>('[data-procedure]')]
    const here = all.findIndex((of) => of === input.value)
    all.find((of, at) => at > here && of.dataset.asked === 'true')?.focus()
  }
}
function leave() {
  typed.value = null
  tried.value = undefined
  error.value = ''
}

/** What was copied from a calculation goes behind what is typed; a question mark makes room for it. */
function putTaken() {
  line.value = line.value && !line.value.startsWith('?') ? `${line.value}, ${taken.value}` : taken.value
  taken.value = ''
}
</script>

<template>
  <form @submit.prevent="keepIt">
    <label class="block">
      <span class="label-text">{{ t('plans-procedure-as-in-the-manual') }}</span>
      <input
        ref="input"
        v-model="line"
        data-procedure
        :data-asked="joint.stages.some((stage) => stage.open)"
        class="field mt-1 text-xl"
        :name="`procedure-${joint.id}`"
        autocomplete="off"
        spellcheck="false"
        :placeholder="t('plans-40-n-m-70-n-m')"
        :aria-invalid="!!tried?.asks.length"
        :list="`lines-${joint.id}`"
        @keydown.esc="leave"
        @focus="typed === null && input?.select()"
      />
      <datalist :id="`lines-${joint.id}`">
        <option v-for="of in lines" :key="of.id" :value="of.text">{{ of.name }}</option>
      </datalist>
    </label>
    <button v-if="taken" type="button" class="quiet-key min-h-11" @click="putTaken">
      {{ t('plans-paste-from-the-calculation', { taken }) }}
    </button>
    <div v-if="typed !== null" class="mt-1" data-test="tried" aria-live="polite">
      <p v-if="pieces.length" class="text-lg break-words">
        <span
          v-for="(piece, at) in pieces"
          :key="at"
          :class="{
            'border-b-2 border-layout': piece.as === 'understood',
            'underline decoration-wavy decoration-wrong decoration-2 underline-offset-4': piece.as === 'asks',
            'text-dim': !piece.as,
          }"
          >{{ piece.text }}</span
        >
      </p>
      <ul v-if="tried?.asks.length" class="mt-1 text-wrong">
        <li v-for="(one, at) in tried.asks" :key="at" data-test="asks">
          <b>“{{ words(one.at) }}”</b>: {{ one.message }}
        </li>
      </ul>
      <p v-if="tried?.canonical" class="mt-1" data-test="canonical">
        <span class="label-text">{{ t('plans-read-as') }}</span> {{ tried.canonical }}
      </p>
      <StageTable v-if="tried?.joint && !tried.asks.length" class="mt-2" :stages="tried.joint.stages" />
      <FaultList v-if="tried?.faults.length" class="mt-2" :faults="tried.faults" />
      <p v-if="joint.stages.length && !joint.in_one_line && kept" class="mt-1 text-dim">
        {{ t('plans-the-stages-are-written-out-in') }}
      </p>
      <div class="mt-2 flex flex-wrap items-center gap-3">
        <button type="submit" class="key key-main" data-test="keep-procedure">{{ t('plans-save-procedure') }}</button>
        <button type="button" class="quiet-key min-h-11" @click="leave">{{ t('common-cancel') }}</button>
        <span v-if="sent && tried?.asks.length" class="font-semibold text-wrong" role="alert">{{
          t('plans-answer-the-question-first')
        }}</span>
      </div>
    </div>
    <KeepPiece
      v-if="typed === null && joint.in_one_line"
      :draft="draft"
      :path="`${joint.path}.procedure`"
      :what="t('plans-the-procedure-of', { joint: joint.name })"
    />
    <p v-if="error" class="mt-1 font-semibold text-wrong" role="alert">{{ error }}</p>
  </form>
</template>
