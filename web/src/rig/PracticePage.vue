<script setup lang="ts">
// Practice: a simulated bolt with hidden friction is brought to its stretch in as few pulls as possible. Nothing of
// it is in any engine's record.
import { useLocalStorage } from '@vueuse/core'
import { computed, nextTick, onMounted, ref } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import ClimbPicture from '../bench/ClimbPicture.vue'
import { torqueUnit } from '../ui/preferences'
import { digits, figure, unitsOf } from '../ui/units'
import ErrorText from '../ui/ErrorText.vue'
import { t } from './texts'

const number = ref(0)
const moves = ref<number[]>([])
const game = ref<Schemas['PracticeGame']>()
const entry = ref('')
const error = ref('')
const busy = ref(false)
const advice = ref(false)
const field = ref<HTMLInputElement>()
/** What the games on this device came to, the last first. */
const played = useLocalStorage<{ points: number; pulls: number; advised: number }[]>('rigore-practice', [])
const over = computed(() => game.value?.points != null)
const on = computed(() => (moves.value.at(-1) ?? 0) > 0)
const read = computed(() => game.value?.read_mm.at(-1))
const says = computed(() => {
  if (!game.value || read.value === undefined) return ''
  if (game.value.past) return t('rig-over-limit')
  if (!on.value) return t('rig-loose-remaining', { read: figure(read.value, 'clearance') })
  if (game.value.inside) return 'OK'
  return read.value > game.value.climb.window.high ? t('rig-over-loosen-it') : t('rig-under-target-pull-further')
})
const mean = computed(() =>
  played.value.length ? Math.round(played.value.reduce((sum, of) => sum + of.points, 0) / played.value.length) : 0,
)

async function play(next: number[]) {
  if (busy.value) return
  busy.value = true
  error.value = ''
  try {
    game.value = take(await api.POST('/api/practice', { body: { game: number.value, moves: next } }))
    moves.value = next
    entry.value = ''
    const { points, pulls, advised } = game.value
    if (points != null && next.length)
      played.value = [{ points, pulls, advised: advised ?? 0 }, ...played.value].slice(0, 50)
  } catch (caught) {
    error.value = caught instanceof Refused ? caught.message : t('common-no-connection-try-again-in-a')
  } finally {
    busy.value = false
    await nextTick()
    field.value?.focus()
  }
}
function pull() {
  const factor = unitsOf('torque').find((unit) => unit.symbol === torqueUnit.value)?.factor ?? 1
  const torque = Number(entry.value.replace(',', '.')) * factor
  if (!Number.isFinite(torque) || torque <= 0) error.value = t('rig-enter-a-torque-such-as-30')
  else if (game.value && on.value && torque < moves.value.at(-1)!)
    error.value = t('rig-less-than-before-the-bolt-would')
  else void play([...moves.value, torque])
}
function fresh() {
  number.value = Math.floor(Math.random() * 2 ** 31)
  advice.value = false
  void play([])
}
onMounted(fresh)
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <div class="flex flex-wrap items-end justify-between gap-4 border-b-2 border-ink pb-3">
      <h1 class="text-4xl font-semibold tracking-tight">{{ t('rig-practice-tighten-to-stretch') }}</h1>
      <p v-if="played.length" class="text-dim">
        {{ t('rig-bolts-here-points-each', { count: played.length, mean }) }}
        <button class="quiet-key" @click="played = []">{{ t('rig-clear-results') }}</button>
      </p>
    </div>
    <div v-if="game" class="mt-4 grid gap-x-10 gap-y-5 lg:grid-cols-[minmax(0,1fr)_26rem]">
      <section class="order-2 lg:order-1">
        <ClimbPicture :climb="game.climb" :fastener="t('rig-this-bolt')" :quiet="!advice && !over" />
        <p class="mt-2 text-dim">
          {{ t('rig-an-m9-1-0-bolt-with', { free_mm: figure(game.free_mm, 'length') })
          }}<template v-if="game.free_mm > game.new_mm + 0.0005">{{
            t('rig-and-new-ones-have-it-was', { new_mm: figure(game.new_mm, 'clearance') })
          }}</template
          >{{ t('rig-nothing-is-recorded-on-an-engine') }}
        </p>
      </section>
      <section class="order-1 flex flex-col gap-3 lg:order-2" :aria-label="t('common-bolt')">
        <div class="flex items-end justify-between gap-4">
          <p>
            <span class="block text-xl text-dim">{{ t('rig-target-stretch') }}</span><span
              class="text-4xl font-semibold text-layout"
              >{{
                t('common-to', {
                  low: digits(game.climb.window.low, 'clearance'),
                  high: figure(game.climb.window.high, 'clearance'),
                })
              }}</span
            >
          </p>
          <p class="text-right">
            <span class="block text-xl text-dim">{{ t('rig-pulls') }}</span><span
              class="text-4xl font-semibold"
              data-test="pulls"
              >{{ game.pulls }}</span
            >
          </p>
        </div>
        <p v-if="says" class="text-4xl font-semibold" :class="game.past && 'text-wrong'" role="status" data-test="says">
          <span v-if="game.inside" class="paint-stroke mr-2" aria-hidden="true" /><span v-else aria-hidden="true">{{
            game.past ? '▲ ' : '▽ '
          }}</span
          >{{ says }}
        </p>
        <p v-if="read !== undefined && on" class="text-xl text-dim">
          {{ t('rig-gave', { moves: figure(moves.at(-1)!, 'torque'), read: figure(read, 'clearance') }) }}
        </p>
        <template v-if="over">
          <p class="far" data-test="points">
            {{ game.points }}<span class="ml-2 text-2xl font-normal text-dim">{{ t('rig-of-100-points') }}</span>
          </p>
          <p class="text-lg">
            {{
              t('rig-pulls-the-advised-steps-take-for', {
                pulls: game.pulls,
                advised: game.advised,
                mu: game.mu?.toFixed(3),
                used: Math.round((game.used ?? 0) * 100),
              })
            }}<template v-if="(game.set_mm ?? 0) > game.free_mm - game.new_mm + 0.0005"
              >{{
                t('rig-permanent-stretch', {
                  set_mm: figure((game.set_mm ?? 0) - (game.free_mm - game.new_mm), 'clearance'),
                })
              }}{{ ' ' }}</template
            >.
          </p>
          <button ref="field" class="key key-main min-h-16 text-2xl" data-test="another" @click="fresh">
            {{ t('rig-next-bolt') }}
          </button>
        </template>
        <template v-else>
          <form class="flex gap-2" @submit.prevent="pull">
            <label class="grow">
              <span class="sr-only">{{ t('common-torque') }}</span>
              <input
                ref="field"
                v-model="entry"
                name="torque"
                class="field min-h-14 text-2xl"
                inputmode="decimal"
                autocomplete="off"
                :placeholder="t('rig-pull-to-then-enter', { unit: torqueUnit })"
                :readonly="busy"
                :aria-invalid="!!error"
              />
            </label>
            <button type="submit" class="key key-main min-h-14 text-xl" :disabled="!entry.trim() || busy">
              {{ t('common-pull') }}
            </button>
          </form>
          <ErrorText :text="error" />
          <button v-if="on" class="key" :disabled="busy" data-test="loosen" @click="play([...moves, 0])">
            {{ t('rig-loosen') }}
          </button>
          <button class="quiet-key self-start py-1" :aria-pressed="advice" data-test="advice" @click="advice = !advice">
            {{ advice ? t('rig-hide-the-advised-step') : t('rig-show-the-advised-step') }}
          </button>
        </template>
        <p class="text-dim">
          {{ t('rig-as-few-pulls-as-possible-never', { utilisation: Math.round(game.climb.utilisation * 100) }) }}
        </p>
      </section>
    </div>
    <p v-else-if="error" role="alert" class="py-8">{{ error }}</p>
  </main>
</template>
