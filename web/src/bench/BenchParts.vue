<script setup lang="ts">
// The parts an engine came with, slot by slot: what each is, its batch and serial, what was done to it.
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import type { Do } from '../api/outbox'
import StateMark from '../ui/StateMark.vue'
import VoidButton from '../ui/VoidButton.vue'

type Slot = Schemas['SlotView']
type Part = Schemas['PartNote']
const props = defineProps<{
  bench: Schemas['Bench']
  slots: Slot[]
  busy: boolean
  act: (what: Do) => Promise<boolean>
}>()
const conditions = [
  { value: 'new', label: 'New' },
  { value: 'used', label: 'Used' },
  { value: 'reworked', label: 'Used and machined' },
] as const
const chosen = ref('')
const field = ref<HTMLInputElement>()
/** The slot in hand: one that was tapped, or the next empty one. */
const here = computed(() => props.slots.find((s) => s.id === chosen.value) ?? props.slots.find((s) => !s.part))
const part = ref<Part>(fresh())
const uses = ref('0')
const error = ref('')

function fresh(): Part {
  return { reference: '', batch: '', serial: '', condition: 'new', uses: 0, machining: '' }
}

/** The form for a slot: what is in it, or what the one before it in its set had, but for the serial. */
function open(slot: Slot | undefined) {
  const before = props.slots.filter((s) => s.family === slot?.family && s.part).at(-1)?.part
  part.value = slot?.part ? { ...fresh(), ...slot.part } : before ? { ...fresh(), ...before, serial: '' } : fresh()
  uses.value = String(part.value.uses ?? 0)
  error.value = ''
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

async function record() {
  if (!here.value) return
  const count = Number(uses.value.trim() || '0')
  if (!Number.isInteger(count) || count < 0) {
    error.value = 'Engines it was in before: a whole number is needed'
    return
  }
  error.value = ''
  const what: Do = {
    type: 'fit',
    operation: props.bench.operation.id,
    slot: here.value.id,
    part: { ...part.value, uses: count },
  }
  if (await props.act(what)) chosen.value = ''
}

const summary = (p: Part) =>
  [p.reference, p.batch && `batch ${p.batch}`, p.serial && `serial ${p.serial}`].filter(Boolean).join(', ')
const history = (p: Part) =>
  [conditions.find((c) => c.value === p.condition)?.label.toLowerCase(), p.uses ? `in ${p.uses} before` : '', p.machining]
    .filter(Boolean)
    .join('; ')

watch(() => [here.value?.id, here.value?.seq], () => open(here.value))
onMounted(() => open(here.value))
</script>

<template>
  <div class="mt-3 grid content-start gap-x-10 gap-y-5 lg:grid-cols-[minmax(0,1fr)_30rem]">
    <ul class="order-2 lg:order-1">
      <li v-for="slot in slots" :key="slot.id" class="flex items-start border-b border-rule" :data-test="slot.id">
        <button class="grid w-full grid-cols-[2rem_11rem_1fr] items-start gap-x-2 py-1.5 text-left max-sm:grid-cols-[2rem_1fr]" @click="chosen = slot.id">
          <StateMark :status="slot.part ? 'done' : slot.id === here?.id ? 'in-work' : 'waiting'" />
          <span :class="slot.id === here?.id && 'font-semibold'">{{ slot.name }}</span>
          <span v-if="slot.part" class="max-sm:col-start-2">
            {{ summary(slot.part) }} <span class="text-dim">{{ history(slot.part) }}</span>
            <span v-for="(old, at) in slot.before" :key="at" class="block text-dim line-through">{{ summary(old) }}</span>
          </span>
          <span v-else class="text-dim max-sm:col-start-2">open</span>
        </button>
        <VoidButton v-if="slot.seq" :seq="slot.seq" :about="slot.name" :act="act" />
      </li>
    </ul>
    <section class="order-1 lg:order-2" aria-label="The part in hand" aria-live="polite">
      <form v-if="here" class="grid gap-3" @submit.prevent="record">
        <p class="text-5xl leading-tight font-semibold" data-test="slot">{{ here.name }}</p>
        <label>
          <span class="label-text">What it is: the maker's reference, or in words</span>
          <input ref="field" v-model="part.reference" name="reference" class="field mt-1 text-xl" autocomplete="off" />
        </label>
        <div class="grid grid-cols-2 gap-3">
          <label>
            <span class="label-text">Batch</span>
            <input v-model="part.batch" name="batch" class="field mt-1" autocomplete="off" />
          </label>
          <label>
            <span class="label-text">Serial or mark</span>
            <input v-model="part.serial" name="serial" class="field mt-1" autocomplete="off" />
          </label>
          <label>
            <span class="label-text">Condition</span>
            <select v-model="part.condition" name="condition" class="field mt-1">
              <option v-for="c in conditions" :key="c.value" :value="c.value">{{ c.label }}</option>
            </select>
          </label>
          <label>
            <span class="label-text">
              Engines it was in before<template v-if="here.uses_allowed != null">, {{ here.uses_allowed }} at the most</template>
            </span>
            <input v-model="uses" name="uses" class="field mt-1" inputmode="numeric" autocomplete="off" />
          </label>
        </div>
        <label>
          <span class="label-text">What the machine shop did to it</span>
          <input v-model="part.machining" name="machining" class="field mt-1" autocomplete="off" placeholder="bored, decked, ground under, balanced" />
        </label>
        <p v-if="error" role="alert" class="font-medium text-wrong">{{ error }}</p>
        <div class="flex items-center gap-4">
          <button type="submit" class="key key-main min-h-16 px-10 text-2xl" :disabled="busy" data-test="fit">Enter it</button>
          <span class="text-dim">or Enter</span>
        </div>
      </form>
      <p v-else class="text-5xl leading-tight font-semibold" data-test="slot">
        {{ bench.matters.length ? 'All entered, not all right' : 'All entered' }}
      </p>
    </section>
  </div>
</template>
