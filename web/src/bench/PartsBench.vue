<script setup lang="ts">
// The parts an engine came with, slot by slot: what each is, its batch and serial, what was done to it.
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { takesKeys } from '../ui/focus'
import StateMark from '../ui/StateMark.vue'
import type { WorkOf } from './benches'
import { letGo, useHand } from './hand'
import { useEntry } from './useEntry'
import VoidButton from './VoidButton.vue'
import { say } from '../ui/units'
import ErrorText from '../ui/ErrorText.vue'
import TextField from '../ui/TextField.vue'
import { openIssues } from '../ui/issues'
import { partNotes } from '../ui/partNotes'
import { t } from './texts'

type Slot = Schemas['SlotView']
type Part = Schemas['PartNote']
/** What is typed of a part: uses as they are typed. */
type Form = Required<Omit<Part, 'uses'>> & { uses: string }

const props = defineProps<{ work: WorkOf<'parts'> }>()
const { build, bench, busy, said, act } = useHand()
const conditions = [
  { value: 'new', label: t('bench-new') },
  { value: 'used', label: t('bench-used') },
  { value: 'reworked', label: t('bench-used-and-machined') },
] as const
const chosen = ref('')
const field = ref<HTMLInputElement>()
const next = computed(() => (bench.value.step.kind === 'fit' ? bench.value.step.slot : null))
const draft = useEntry<Form | null, string>({
  place: () => `${build.value}/${bench.value.operation.id}`,
  target: () => chosen.value || next.value,
  seen: () => bench.value.seq,
  empty: () => null,
})
/** The slot in hand: one that was tapped, or the next empty one. */
const here = computed(() => props.work.slots.find((s) => s.id === draft.target.value))
/** The form: what there is to begin with, and what is typed, of whichever fields that was held. */
const form = computed<Form>(() => ({ ...beginning(here.value), ...draft.value.value }))

/** What is in a slot, or what the one before it in its set has, but for the serial. */
function beginning(slot: Slot | undefined): Form {
  const before = props.work.slots.filter((s) => s.family === slot?.family && s.part).at(-1)?.part
  const part: Partial<Part> = slot?.part ?? (before ? { ...before, serial: '', stamp: '' } : {})
  return {
    reference: part.reference ?? '',
    batch: part.batch ?? '',
    serial: part.serial ?? '',
    condition: part.condition ?? 'new',
    uses: String(part.uses ?? 0),
    machining: part.machining ?? '',
    stamp: part.stamp ?? '',
    sizes: part.sizes ?? {},
  }
}

/** One field of the form, bound to the slot it is typed for. */
const typed = <Key extends keyof Form>(key: Key) =>
  computed<Form[Key]>({
    get: () => form.value[key],
    set: (text) => (draft.value.value = { ...form.value, [key]: text }),
  })
const [reference, batch, serial] = [typed('reference'), typed('batch'), typed('serial')]
const stamp = typed('stamp')
function setSize(id: string, said: string) {
  const sizes = { ...form.value.sizes, [id]: said }
  if (!said) delete sizes[id]
  draft.value.value = { ...form.value, sizes }
}
const [condition, uses, machining] = [typed('condition'), typed('uses'), typed('machining')]
const wrong = ref('')

/** What the shop knows of the serial that is typed. */
const looked = refDebounced(serial, 250)
const { data: found } = useQuery({
  queryKey: ['part', computed(() => looked.value.trim())],
  enabled: computed(() => looked.value.trim().length > 1 && looked.value.trim() !== here.value?.part?.serial),
  retry: false,
  queryFn: async () => {
    const answer = await api.GET('/api/parts/{serial}', { params: { path: { serial: looked.value.trim() } } })
    return answer.response.status === 404 ? [] : take(answer)
  },
})
const life = computed(() =>
  looked.value.trim() === serial.value.trim() ? found.value?.find((of) => of.kind === here.value?.family) : undefined,
)
const known = computed(() => {
  const others = life.value?.pieces.flatMap((piece) => piece.lived).filter((lived) => lived.build !== build.value) ?? []
  return others.length ? { engines: [...new Set(others.map((lived) => lived.engine))].join(', ') } : null
})
const scrap = computed(() => life.value?.pieces.filter((piece) => piece.verdict === 'scrap') ?? [])

async function record() {
  if (!here.value || busy.value) return
  const count = Number(uses.value.trim() || '0')
  if (!Number.isInteger(count) || count < 0) {
    wrong.value = t('bench-previous-engines-enter-a-whole-number')
    return
  }
  wrong.value = ''
  const [held, recorded] = [draft.hold(), letGo(chosen, '')]
  const part = { ...form.value, uses: count }
  if (await act({ type: 'fit', operation: bench.value.operation.id, slot: here.value.id, part })) {
    held?.done()
    recorded()
  } else held?.failed(said.value)
}

function open(slot: string) {
  chosen.value = slot
  draft.clear()
}

function focus() {
  wrong.value = ''
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

const summary = (p: Part) =>
  [
    p.reference,
    p.batch && t('bench-of-batch', { batch: p.batch }),
    p.serial && t('bench-of-serial', { serial: p.serial }),
  ]
    .filter(Boolean)
    .join(', ')
const history = (p: Part, sizes: Slot['sizes']) =>
  [
    conditions.find((c) => c.value === p.condition)?.label.toLowerCase(),
    p.uses ? t('bench-previous-engines-3', { uses: p.uses }) : '',
    ...partNotes(p, sizes),
  ]
    .filter(Boolean)
    .join('; ')

watch(() => [here.value?.id, here.value?.seq], focus)
onMounted(focus)
takesKeys(field)
</script>

<template>
  <div class="mt-3 grid content-start gap-x-10 gap-y-5 lg:grid-cols-[minmax(0,1fr)_30rem]">
    <ul class="order-2 lg:order-1">
      <li v-for="slot in work.slots" :key="slot.id" class="flex items-start border-b border-rule" :data-test="slot.id">
        <button
          :class="[
            'grid w-full grid-cols-[2rem_11rem_1fr] items-start',
            'gap-x-2 py-1.5 text-left max-sm:grid-cols-[2rem_1fr]',
          ]"
          @click="open(slot.id)"
        >
          <StateMark :status="slot.part ? 'done' : slot.id === here?.id ? 'in-work' : 'waiting'" />
          <span :class="slot.id === here?.id && 'font-semibold'">{{ slot.name }}</span>
          <span v-if="slot.part" class="max-sm:col-start-2">
            {{ summary(slot.part) }} <span class="text-dim">{{ history(slot.part, slot.sizes) }}</span>
            <span v-if="slot.lived" class="block" :data-test="`lived-${slot.id}`">
              <RouterLink
                :to="`/parts/${encodeURIComponent(slot.part.serial ?? '')}`"
                class="underline underline-offset-4"
                @click.stop
                >{{ t('bench-previous-engines', { engines: slot.lived.engines.join(', ') }) }}</RouterLink>{{
                t('bench-used-times', { uses: slot.lived.uses })
              }}
              <span v-for="why in (slot.lived.scrap ?? []).map(say)" :key="why" class="block font-semibold text-wrong"
                >▲ {{ why }}</span
              >
            </span>
            <span v-for="(old, at) in slot.before" :key="at" class="block text-dim line-through">{{
              summary(old)
            }}</span>
          </span>
          <span v-else class="text-dim max-sm:col-start-2">{{ t('common-open') }}</span>
        </button>
        <VoidButton v-if="slot.seq" :seq="slot.seq" :about="slot.name" />
      </li>
    </ul>
    <section class="order-1 lg:order-2" :aria-label="t('common-part')">
      <form v-if="here" class="grid gap-3" @submit.prevent="record">
        <p class="headline" data-test="slot" aria-live="polite">{{ here.name }}</p>
        <label>
          <span class="label-text">{{ t('bench-part-number-or-description') }}</span>
          <input ref="field" v-model="reference" name="reference" class="field mt-1 text-xl" autocomplete="off" />
        </label>
        <div class="grid grid-cols-2 gap-3">
          <TextField v-model="batch" :label="t('common-batch')" name="batch" />
          <TextField v-model="serial" :label="t('bench-serial-mark-or-set-number')" name="serial" />
          <label>
            <span class="label-text">{{ t('common-condition') }}</span>
            <select v-model="condition" name="condition" class="field mt-1">
              <option v-for="c in conditions" :key="c.value" :value="c.value">{{ c.label }}</option>
            </select>
          </label>
          <label>
            <span class="label-text">
              {{ ' ' }}{{ t('bench-previous-engines-2')
              }}<template v-if="here.uses_allowed != null">{{
                t('bench-max', { uses_allowed: here.uses_allowed })
              }}</template>
            </span>
            <input v-model="uses" name="uses" class="field mt-1" inputmode="numeric" autocomplete="off" />
          </label>
          <TextField v-if="here.stamp != null" v-model="stamp" :label="t('bench-number-or-side-on-it')" name="stamp" />
          <label v-for="size in here.sizes" :key="size.id">
            <span class="label-text">{{ size.name }}</span>
            <select
              class="field mt-1"
              :name="`size-${size.id}`"
              :value="form.sizes[size.id] ?? ''"
              @change="setSize(size.id, ($event.target as HTMLSelectElement).value)"
            >
              <option value="">{{ t('bench-not-known') }}</option>
              <option v-for="choice in size.choices" :key="choice" :value="choice">{{ choice }}</option>
            </select>
          </label>
        </div>
        <TextField
          v-model="machining"
          :label="t('bench-machining-done')"
          name="machining"
          :placeholder="t('bench-bored-decked-ground-under-balanced')"
        />
        <p
          v-if="known"
          class="border-l-4 pl-3"
          :class="scrap.length ? 'border-wrong' : 'border-layout'"
          role="status"
          data-test="known"
        >
          <span class="font-semibold">{{ t('bench-is-already-known', { serial: serial.trim() }) }}</span>
          {{ t('bench-used-in', { engines: known.engines }) }}
          <span v-for="piece in scrap" :key="piece.piece" class="block font-semibold text-wrong"
            >▲ {{ piece.name }}: {{ piece.why.map(say).join('; ') }}</span
          >
        </p>
        <ErrorText :text="wrong" />
        <div class="flex items-center gap-4">
          <button type="submit" class="key key-main min-h-16 px-10 text-2xl" :disabled="busy" data-test="fit">
            {{ t('bench-save-part') }}
          </button>
          <span class="text-dim">{{ t('bench-or-enter') }}</span>
        </div>
      </form>
      <p v-else class="headline" data-test="slot">
        {{
          bench.issues.length
            ? t('bench-all-logged', { count: openIssues(bench.issues.length) })
            : t('bench-all-logged-2')
        }}
      </p>
    </section>
  </div>
</template>
