<script setup lang="ts">
// Hardware, counted out before the work and back after it: it has to come out at zero.
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { takesKeys } from '../ui/focus'
import StateMark from '../ui/StateMark.vue'
import type { WorkOf } from './benches'
import { letGo, useHand } from './hand'
import { useEntry } from './useEntry'
import VoidButton from './VoidButton.vue'
import { openIssues } from '../ui/issues'
import { t } from './texts'

const props = defineProps<{ work: WorkOf<'count'> }>()
const { build, bench, busy, said, act } = useHand()
const chosen = ref('')
const field = ref<HTMLInputElement>()
const back = computed(() => props.work.counts.some((line) => line.back))
const next = computed(() => (bench.value.step.kind === 'count' ? bench.value.step.hardware : null))
const draft = useEntry<string, string>({
  place: () => `${build.value}/${bench.value.operation.id}`,
  target: () => chosen.value || next.value,
  seen: () => bench.value.seq,
  empty: () => '',
})
const entry = draft.value
/** The kind in hand: one that was tapped, or the next that is not counted. */
const here = computed(() => props.work.counts.find((line) => line.id === draft.target.value))

async function record() {
  const typed = draft.hold()
  if (!typed || busy.value) return
  const count = Number(entry.value)
  if (!Number.isInteger(count) || count < 0) return typed.failed(t('bench-a-whole-number-is-needed'))
  if (await send(typed.target, count)) typed.done()
  else typed.failed(said.value)
  focus()
}

/** Enter with nothing typed is the large key, as everywhere. */
function enter(event: KeyboardEvent) {
  if (entry.value.trim()) return
  event.preventDefault()
  if (!event.repeat && !busy.value) void asPlanned()
}

/** It is as it should be: one key, nothing typed. */
async function asPlanned() {
  if (!here.value) return
  if (await send(here.value.id, here.value.expected)) draft.clear()
  focus()
}

async function send(hardware: string, count: number): Promise<boolean> {
  const recorded = letGo(chosen, '')
  if (!(await act({ type: 'count', operation: bench.value.operation.id, hardware, count }))) return false
  recorded()
  return true
}

function focus() {
  void nextTick(() => field.value?.focus({ preventScroll: true }))
}

function select(id: string) {
  chosen.value = id
  draft.aim(id)
  focus()
}

watch(() => here.value?.id, focus)
onMounted(focus)
takesKeys(field, enter)
</script>

<template>
  <div class="mt-3 grid content-start gap-x-10 gap-y-5 lg:grid-cols-[minmax(0,1fr)_26rem]">
    <table class="order-2 w-full self-start text-left lg:order-1" data-test="counts">
      <thead class="text-dim">
        <tr class="border-b border-ink">
          <th class="py-1 pr-3 font-normal" colspan="2">{{ t('common-hardware') }}</th>
          <th class="pr-3 font-normal max-sm:hidden">{{ t('bench-in-the-engine') }}</th>
          <th v-if="back" class="pr-3 font-normal max-sm:hidden">{{ t('bench-counted-out') }}</th>
          <th class="pr-3 font-normal">{{ back ? t('bench-to-remove') : t('bench-needed') }}</th>
          <th class="font-normal">{{ t('bench-counted') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in work.counts" :key="line.id" class="border-b border-rule align-baseline" :data-test="line.id">
          <td class="w-9 py-2">
            <StateMark
              :status="
                line.difference && !line.accepted
                  ? 'held'
                  : line.count != null
                    ? 'done'
                    : line.id === here?.id
                      ? 'in-work'
                      : 'waiting'
              "
            />
          </td>
          <td class="pr-3" :class="line.id === here?.id && 'font-semibold'">
            {{ line.name }}
            <span v-if="line.difference" class="block" :class="line.accepted ? 'text-dim' : 'font-semibold text-wrong'">
              {{ line.difference
              }}<template v-if="line.accepted">{{ t('common-approved', { accepted: line.accepted }) }}</template>
            </span>
          </td>
          <td class="pr-3 max-sm:hidden">{{ line.needed }}</td>
          <td v-if="back" class="pr-3 max-sm:hidden">{{ line.out ?? '·' }}</td>
          <td class="pr-3">{{ line.expected }}</td>
          <td>
            <button
              class="min-h-11 min-w-11 px-1 font-semibold underline-offset-4 hover:underline"
              :aria-label="t('bench-count', { count: line.count ?? '·', line: line.name })"
              @click="select(line.id)"
            >
              {{ line.count ?? '·' }}
            </button>
            <VoidButton v-if="line.seq" :seq="line.seq" :about="`${line.name}, ${line.count}`" />
          </td>
        </tr>
      </tbody>
    </table>
    <section class="order-1 lg:order-2" :aria-label="t('bench-count-2')">
      <template v-if="here">
        <p class="text-xl text-dim">{{ back ? t('bench-count-back') : t('bench-count-out') }}</p>
        <p class="headline" data-test="counting" aria-live="polite">{{ here.name }}</p>
        <p class="mt-1 text-4xl font-semibold text-layout">
          {{ here.expected
          }}<span class="ml-3 text-2xl font-normal text-dim">{{
            back ? t('bench-left-over') : t('bench-needed-2')
          }}</span>
        </p>
        <form class="mt-4 flex gap-2" @submit.prevent="record">
          <label class="grow">
            <span class="sr-only">{{ t('bench-count-2') }}</span>
            <input
              ref="field"
              v-model="entry"
              name="count"
              class="field min-h-16 text-3xl"
              inputmode="numeric"
              autocomplete="off"
              :placeholder="t('bench-count-enter', { expected: here.expected })"
              :aria-invalid="!!draft.message.value"
              :readonly="busy"
              @keydown.enter="enter"
            />
          </label>
          <button type="submit" class="key min-h-16" :disabled="busy || !entry.trim()">{{ t('bench-record') }}</button>
        </form>
        <button
          class="key key-main mt-3 min-h-16 w-full text-2xl"
          :disabled="busy"
          data-test="as-planned"
          @click="asPlanned"
        >
          {{ t('bench-as-planned', { expected: here.expected }) }}
        </button>
        <p v-if="draft.message.value && !said" role="alert" class="mt-2 font-semibold text-wrong">
          {{ draft.message.value }}
        </p>
      </template>
      <p v-else class="headline" data-test="counting" aria-live="polite">
        {{
          bench.issues.length
            ? t('bench-all-counted', { count: openIssues(bench.issues.length) })
            : t('bench-all-counted-2')
        }}
      </p>
    </section>
  </div>
</template>
