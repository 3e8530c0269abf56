<script setup lang="ts">
// Hardware, counted out before the work and back after it: it has to come out at zero.
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import type { Do } from '../api/outbox'
import StateMark from '../ui/StateMark.vue'
import VoidButton from '../ui/VoidButton.vue'

const props = defineProps<{
  bench: Schemas['Bench']
  counts: Schemas['CountView'][]
  busy: boolean
  act: (what: Do) => Promise<boolean>
}>()
const entry = ref('')
const error = ref('')
const chosen = ref('')
const field = ref<HTMLInputElement>()
const back = computed(() => props.counts.some((line) => line.back))
/** The kind in hand: one that was tapped, or the next that is not counted. */
const here = computed(() => props.counts.find((line) => line.id === chosen.value) ?? props.counts.find((line) => line.count == null))

async function record() {
  if (!here.value || !entry.value.trim()) return
  const count = Number(entry.value)
  if (!Number.isInteger(count) || count < 0) {
    error.value = 'A whole number is needed'
    return
  }
  error.value = ''
  if (await props.act({ type: 'count', operation: props.bench.operation.id, hardware: here.value.id, count })) {
    entry.value = ''
    chosen.value = ''
  }
  focus()
}

function focus() {
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

function select(id: string) {
  chosen.value = id
  focus()
}

watch(() => here.value?.id, focus)
onMounted(focus)
</script>

<template>
  <div class="mt-3 grid content-start gap-x-10 gap-y-5 lg:grid-cols-[minmax(0,1fr)_26rem]">
    <table class="order-2 w-full self-start text-left lg:order-1" data-test="counts">
      <thead class="text-dim">
        <tr class="border-b border-ink">
          <th class="py-1 pr-3 font-normal" colspan="2">Hardware</th>
          <th class="pr-3 font-normal max-sm:hidden">In the engine</th>
          <th v-if="back" class="pr-3 font-normal max-sm:hidden">Counted out</th>
          <th class="pr-3 font-normal">{{ back ? 'To come back' : 'Needed' }}</th>
          <th class="font-normal">Counted</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in counts" :key="line.id" class="border-b border-rule align-baseline" :data-test="line.id">
          <td class="w-9 py-2">
            <StateMark :status="line.difference && !line.accepted ? 'held' : line.count != null ? 'done' : line.id === here?.id ? 'in-work' : 'waiting'" />
          </td>
          <td class="pr-3" :class="line.id === here?.id && 'font-semibold'">
            {{ line.name }}
            <span v-if="line.difference" class="block" :class="line.accepted ? 'text-dim' : 'font-medium text-wrong'">
              {{ line.difference }}<template v-if="line.accepted">; accepted: {{ line.accepted }}</template>
            </span>
          </td>
          <td class="pr-3 max-sm:hidden">{{ line.needed }}</td>
          <td v-if="back" class="pr-3 max-sm:hidden">{{ line.out ?? '·' }}</td>
          <td class="pr-3">{{ line.expected }}</td>
          <td>
            <button class="min-h-9 px-1 font-semibold underline-offset-4 hover:underline" :aria-label="`Count ${line.name}`" @click="select(line.id)">
              {{ line.count ?? '·' }}
            </button>
            <VoidButton v-if="line.seq" :seq="line.seq" :about="`${line.name}, ${line.count}`" :act="act" />
          </td>
        </tr>
      </tbody>
    </table>
    <section class="order-1 lg:order-2" aria-label="The count in hand" aria-live="polite">
      <template v-if="here">
        <p class="text-xl text-dim">{{ back ? 'Count back' : 'Count out' }}</p>
        <p class="text-5xl leading-tight font-semibold" data-test="counting">{{ here.name }}</p>
        <p class="mt-1 text-4xl font-semibold text-layout">
          {{ here.expected }}<span class="ml-3 text-2xl font-normal text-dim">{{ back ? 'left over, no more and no less' : 'needed' }}</span>
        </p>
        <form class="mt-4 flex gap-2" @submit.prevent="record">
          <label class="grow">
            <span class="sr-only">How many there are</span>
            <input ref="field" v-model="entry" name="count" class="field min-h-16 text-3xl" inputmode="numeric" autocomplete="off" placeholder="How many there are" :aria-invalid="!!error" />
          </label>
          <button type="submit" class="key min-h-16" :disabled="busy || !entry.trim()">Record</button>
        </form>
        <button class="key key-main mt-3 min-h-16 w-full text-2xl" :disabled="busy" data-test="as-planned" @click="(entry = String(here.expected)), record()">
          {{ here.expected }}, as it should be
        </button>
        <p v-if="error" role="alert" class="mt-2 font-medium text-wrong">{{ error }}</p>
      </template>
      <p v-else class="text-5xl leading-tight font-semibold" data-test="counting">
        {{ bench.matters.length ? 'All counted, not all there' : 'All counted' }}
      </p>
    </section>
  </div>
</template>
