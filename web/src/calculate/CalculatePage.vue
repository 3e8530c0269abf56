<script setup lang="ts">
// Every calculation by itself: what goes in, what comes out while it is typed, the formula. The address holds what went
// in, so that it can be kept or sent.
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, Refused, take, type Schemas } from '../api/client'
import CalculationPicture from './CalculationPicture.vue'
import EnginePicture from './EnginePicture.vue'
import FieldInput from './FieldInput.vue'
import JointPicture from './JointPicture.vue'
import { chosen, givenAll, inOwnUnits, shown, typedAll, unit, words, type Calculation, type Values } from './fields'
import { say } from '../ui/units'
import { usePageTitle } from '../ui/pageTitle'
import { t } from './texts'

const route = useRoute()
const router = useRouter()
const { data: list, error: away } = useQuery({
  queryKey: ['calculations'],
  queryFn: async () => take(await api.GET('/api/calc')) as Calculation[],
  staleTime: Infinity,
})
/** Where none is named: what a torque gives, which is asked most. */
const FIRST = 'preload-from-torque'
const name = computed(() => String(route.params.name || FIRST))
const calculation = computed(() => list.value?.find((of) => of.name === name.value))
const values = ref<Values>({})
const result = ref<Record<string, unknown>>()
const fault = ref<{ field: string; message: string }>()

/** What the address holds, or the example. */
function begin() {
  const of = calculation.value
  if (!of) return
  let input: unknown = of.example
  try {
    if (typeof route.query.with === 'string') input = JSON.parse(route.query.with)
  } catch {
    // An address that was cut short begins with the example.
  }
  values.value = typedAll(of.input, input)
  result.value = undefined
  void compute()
}
watch(calculation, begin, { immediate: true })

/** Another unit: what was typed means the same in it. */
function useUnit(dimension: string, symbol: string) {
  const of = calculation.value
  if (!of) return
  const input = givenAll(of.input, values.value)
  chosen.value = { ...chosen.value, [dimension]: symbol }
  values.value = typedAll(of.input, input)
}

/** What the results are sensitive to: what one percent more of each figure does. */
const sensitive = ref<Schemas['Sensitivity'][]>([])
/** A result that is taken into a plan's field. */
const taken = useLocalStorage('rigore.taken', '')
const figure = (key: string, value: unknown) => `${shown(value, key)}${unit(key) ? ` ${unit(key)}` : ''}`

let asked = 0
async function compute() {
  const of = calculation.value
  if (!of) return
  const mine = ++asked
  const input = givenAll(of.input, values.value)
  void router.replace({ params: { name: of.name }, query: { with: JSON.stringify(input) } })
  try {
    const answer = take(
      await api.POST('/api/calc/{name}', { params: { path: { name: of.name } }, body: input as never }),
    )
    if (mine !== asked) return
    result.value = answer as Record<string, unknown>
    fault.value = undefined
    const more = await api
      .POST('/api/calc/{name}/sensitivity', { params: { path: { name: of.name } }, body: input as never })
      .then(take, () => [])
    if (mine === asked) sensitive.value = more
  } catch (caught) {
    if (mine !== asked) return
    const first = caught instanceof Refused ? caught.problem.errors[0] : undefined
    fault.value = first
      ? { field: first.field, message: say(first.message) }
      : { field: '', message: caught instanceof Error ? caught.message : '' }
  }
}
watchDebounced(values, compute, { deep: true, debounce: 150 })

/** What is typed, in the units of the calculation: what is drawn. */
const figures = computed(() => (calculation.value ? inOwnUnits(calculation.value.input, values.value) : {}))
/** In the order that the calculation names them. */
const lines = computed(() =>
  (calculation.value?.output ?? []).flatMap((key) =>
    result.value && key in result.value ? [[key, result.value[key]] as const] : [],
  ),
)
const isTable = (value: unknown): value is Record<string, unknown>[] =>
  Array.isArray(value) && typeof value[0] === 'object' && value[0] !== null && !Array.isArray(value[0])
const columns = (rows: Record<string, unknown>[]) => [...new Set(rows.flatMap((row) => Object.keys(row)))]
usePageTitle(() => t('calculate-calculations', { calculation: name.value.replaceAll('-', ' ') }))
</script>

<template>
  <main class="mx-auto w-full max-w-6xl px-4 py-6">
    <h1 class="border-b-2 border-ink pb-3 text-4xl font-semibold tracking-tight">{{ t('common-calculations') }}</h1>
    <p v-if="away" class="said-wrong mt-4" role="alert">
      {{ t('calculate-what-you-typed-is-kept', { message: away.message }) }}
    </p>
    <div v-if="list" class="mt-4 grid gap-x-10 gap-y-5 lg:grid-cols-[15rem_minmax(0,1fr)]">
      <label class="block lg:hidden">
        <span class="label-text">{{ t('calculate-calculation') }}</span>
        <select
          class="line-field min-h-11 w-full text-xl"
          :value="name"
          name="calculation"
          @change="router.push({ params: { name: ($event.target as HTMLSelectElement).value }, query: {} })"
        >
          <option v-for="of in list" :key="of.name" :value="of.name">{{ words(of.name) }}</option>
        </select>
      </label>
      <nav class="hidden lg:block" :aria-label="t('common-calculations')">
        <RouterLink
          v-for="of in list"
          :key="of.name"
          :to="{ name: 'calculate', params: { name: of.name } }"
          class="block border-l-4 border-transparent py-1 pl-3 underline-offset-4 hover:underline"
          :class="of.name === name && 'border-layout! font-semibold'"
          :aria-current="of.name === name ? 'page' : undefined"
          >{{ words(of.name) }}</RouterLink
        >
      </nav>
      <section v-if="calculation" class="min-w-0">
        <h2 class="text-3xl font-semibold tracking-tight">{{ words(calculation.name) }}</h2>
        <p class="text-lg text-dim">{{ calculation.about }}</p>
        <p class="mt-3 border-y border-rule py-3 text-2xl break-words" data-test="formula">
          {{ calculation.formula }}
        </p>
        <p v-if="calculation.legend.length" class="mt-2 text-dim" data-test="legend">
          <span v-for="(of, at) in calculation.legend" :key="of.symbol" class="sm:whitespace-nowrap"
            ><b class="text-ink">{{ of.symbol }}</b> {{ of.means
            }}<template v-if="at < calculation.legend.length - 1">,&nbsp;</template><wbr
          /></span>
        </p>
        <form
          class="mt-4 grid grid-cols-[repeat(auto-fill,minmax(11rem,1fr))] gap-x-6 gap-y-3"
          @submit.prevent="compute"
        >
          <FieldInput
            v-for="field in calculation.input"
            :key="`${calculation.name} ${field.name}`"
            v-model="values[field.name]"
            :class="field.kind === 'text' && calculation.input.length === 1 && 'col-span-full'"
            :field="field"
            :path="field.name"
            :fault="fault"
            @unit="useUnit"
          />
        </form>
        <CalculationPicture class="mt-4" :name="calculation.name" :input="figures" />
        <JointPicture class="mt-4" :name="calculation.name" :input="figures" :result="result" />
        <EnginePicture class="mt-4" :name="calculation.name" :input="figures" :result="result" />
        <p
          v-if="fault && !(fault.field in values) && !fault.field.includes('[') && !fault.field.includes('.')"
          class="said-wrong mt-4"
          role="alert"
        >
          {{ fault.message }}
        </p>
        <dl
          class="mt-6 border-t-2 border-ink pt-3"
          :class="fault && 'opacity-40'"
          aria-live="polite"
          data-test="results"
        >
          <template v-for="[key, value] in lines" :key="key">
            <div v-if="isTable(value)" class="overflow-x-auto py-2">
              <dt class="label-text">{{ words(key) }}</dt>
              <dd>
                <table class="mt-1 border-collapse text-left text-xl">
                  <thead>
                    <tr>
                      <th
                        v-for="column in columns(value)"
                        :key="column"
                        class="border-b border-ink py-1 pr-6 text-base font-semibold text-dim"
                      >
                        {{ words(column) }}<template v-if="unit(column)">, {{ unit(column) }}</template>
                      </th>
                    </tr>
                  </thead>
                  <tbody>
                    <tr v-for="(row, at) in value" :key="at">
                      <td v-for="column in columns(value)" :key="column" class="border-b border-rule py-1 pr-6">
                        {{ column in row ? shown(row[column], column) : '' }}
                      </td>
                    </tr>
                  </tbody>
                </table>
              </dd>
            </div>
            <div v-else class="flex flex-wrap items-baseline justify-between gap-x-6 border-b border-rule py-2">
              <dt class="text-lg text-dim">{{ words(key) }}</dt>
              <dd class="text-3xl font-semibold" :data-test="key">
                {{ shown(value, key)
                }}<span v-if="unit(key)" class="ml-2 text-xl font-normal text-dim">{{ unit(key) }}</span>
                <button
                  v-if="typeof value === 'number' || key === 'canonical'"
                  type="button"
                  class="quiet-key ml-4 min-h-11 text-base font-normal"
                  :aria-label="t('calculate-copy', { key: words(key) })"
                  @click="taken = figure(key, value)"
                >
                  {{ taken === figure(key, value) ? t('calculate-copied-paste-it-in-a-plan') : t('common-copy') }}
                </button>
              </dd>
            </div>
          </template>
        </dl>
        <section v-if="sensitive.length && !fault" class="mt-6" data-test="sensitivity">
          <h3 class="text-xl font-semibold">{{ t('calculate-sensitivity') }}</h3>
          <ul>
            <li
              v-for="one in sensitive"
              :key="one.input"
              class="grid items-center gap-x-4 border-b border-rule py-1 sm:grid-cols-[12rem_1fr]"
            >
              <span>{{ t('calculate-1-more', { input: words(one.input).toLowerCase() }) }}</span>
              <span class="flex items-center gap-3"
                ><svg viewBox="-60 0 120 10" class="h-3 w-40 shrink-0 max-sm:w-24" aria-hidden="true">
                  <line x1="0" x2="0" y2="10" stroke="var(--ink)" />
                  <rect
                    :x="Math.max(-60, Math.min(0, one.percent * 20))"
                    :width="Math.min(60, Math.abs(one.percent * 20))"
                    height="10"
                    fill="var(--layout)"
                  />
                </svg>
                {{ one.percent > 0 ? '+' : '−' }}{{ Math.abs(one.percent).toFixed(2) }} %
                {{ words(one.output).toLowerCase() }}</span
              >
            </li>
          </ul>
        </section>
      </section>
      <p v-else class="text-xl">{{ t('calculate-no-calculation-has-this-name-choose') }}</p>
    </div>
  </main>
</template>
