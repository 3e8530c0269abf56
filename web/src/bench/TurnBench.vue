<script setup lang="ts">
// Turning the crankshaft: free, binding, or the torque it takes, against the time before.
import { computed, onMounted, ref } from 'vue'
import type { Schemas } from '../api/client'
import { takesKeys } from '../ui/focus'
import { torqueUnit } from '../ui/preferences'
import ScrollBox from '../ui/ScrollBox.vue'
import { digits, figure, when } from '../ui/units'
import VoidButton from './VoidButton.vue'
import type { WorkOf } from './benches'
import { useHand } from './hand'
import { useEntry } from './useEntry'
import { t } from './texts'

const props = defineProps<{ work: WorkOf<'turn'> }>()
const { build, bench, busy, said, act } = useHand()
const draft = useEntry<string, string>({
  place: () => `${build.value}/${bench.value.operation.id}`,
  target: () => bench.value.operation.id,
  seen: () => bench.value.seq,
  empty: () => '',
})
const entry = draft.value
const field = ref<HTMLInputElement>()
/** Where it was turned, Enter is for the signature; another turn is tapped. */
const awaited = computed(() => (bench.value.step.kind === 'turn' ? field.value : undefined))
onMounted(() => awaited.value?.focus({ preventScroll: true }))
takesKeys(awaited)
const most = computed(
  () => Math.max(props.work.most_nm ?? 0, ...props.work.turns.map((turn) => turn.torque_nm ?? 0)) || 1,
)

async function turned(free: boolean) {
  const typed = draft.hold()
  const text = entry.value.trim() || null
  const recorded = await act({
    type: 'turn',
    operation: bench.value.operation.id,
    free,
    text,
    unit: torqueUnit.value,
  })
  if (recorded) typed?.done()
  else typed?.failed(said.value)
}

/** What a turn took against the one before something was fitted. */
function change(turn: Schemas['TurnView']): string {
  if (turn.rise_nm == null) return ''
  const by = digits(Math.abs(turn.rise_nm), 'torque')
  return turn.rise_nm > 0
    ? t('bench-more-than-before', { by })
    : turn.rise_nm < 0
      ? t('bench-less-than-before', { by })
      : t('bench-as-before')
}
</script>

<template>
  <div class="mt-4 grid max-w-4xl gap-5">
    <p class="text-4xl leading-tight font-semibold">{{ t('bench-turn-the-crankshaft-two-full-turns') }}</p>
    <p class="text-xl">
      <span class="text-dim">{{ t('bench-last-part-fitted') }}</span> {{ work.suspect }}
    </p>
    <form class="grid gap-5" @submit.prevent="turned(true)">
      <label class="max-w-md">
        <span class="label-text">
          {{ ' ' }}{{ t('bench-turning-torque-optional', { unit: torqueUnit })
          }}<template v-if="work.most_nm != null">{{
            t('bench-max-3', { most_nm: digits(work.most_nm, 'torque') })
          }}</template>
        </span>
        <input
          ref="field"
          v-model="entry"
          name="turning-torque"
          class="field mt-1 min-h-14 text-2xl"
          inputmode="decimal"
          autocomplete="off"
          :readonly="busy"
        />
      </label>
      <div class="flex flex-wrap gap-4">
        <button type="submit" class="key key-main min-h-20 px-10 text-3xl" :disabled="busy" data-test="free">
          {{ t('bench-turns-freely') }}
        </button>
        <button
          type="button"
          class="key min-h-20 px-10 text-3xl"
          :disabled="busy"
          data-test="binds"
          @click="turned(false)"
        >
          {{ t('bench-binds') }}
        </button>
      </div>
    </form>
    <ScrollBox v-if="work.turns.length" :label="t('bench-checks-so-far')">
      <table class="w-full text-left" data-test="turns">
        <caption class="text-left text-dim">
          {{
            t('bench-checks-so-far')
          }}
        </caption>
        <tbody>
          <tr v-for="turn in work.turns" :key="turn.seq" class="border-b border-rule">
            <td class="py-1 pr-3">
              {{ turn.name }}<span class="block text-dim">{{ t('bench-after', { suspect: turn.suspect }) }}</span
              ><span class="block text-dim sm:hidden">{{ turn.by }}, {{ when(turn.at) }}</span>
            </td>
            <td class="pr-3" :class="!turn.free && 'font-semibold text-wrong'">
              {{ turn.free ? t('bench-free') : t('bench-binds-2') }}
            </td>
            <td class="pr-3 whitespace-nowrap">
              <template v-if="turn.torque_nm != null">
                <span
                  class="mr-2 inline-block h-2.5 bg-ink align-middle max-sm:hidden"
                  :style="{ width: `${(turn.torque_nm / most) * 6}rem` }"
                  aria-hidden="true"
                />
                {{ figure(turn.torque_nm, 'torque') }}
              </template>
            </td>
            <td class="pr-3">{{ change(turn) }}</td>
            <td class="pr-3 text-dim max-sm:hidden">{{ turn.by }}, {{ when(turn.at) }}</td>
            <td class="text-right">
              <VoidButton v-if="turn.operation === bench.operation.id" :seq="turn.seq" :about="turn.name" />
            </td>
          </tr>
        </tbody>
      </table>
    </ScrollBox>
  </div>
</template>
