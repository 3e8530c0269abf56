<script setup lang="ts">
// Every member of a clearance on one scale with its window, so that the odd one shows.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { digits, figure as inUnit, say } from '../ui/units'
import { ends } from '../ui/windows'
import ScrollBox from '../ui/ScrollBox.vue'
import SeriesPicture from './SeriesPicture.vue'
import { t } from './texts'

type View = Schemas['ClearanceView']
const props = withDefaults(defineProps<{ views: View[]; busy?: boolean; fixed?: boolean }>(), {
  busy: false,
  fixed: false,
})
/** Shells for one bore, in the shape they are recorded in. */
type Choice = { number: number; upper: string; lower: string }
const emit = defineEmits<{ choose: [clearance: string, choices: Choice[]] }>()

const first = computed(() => props.views[0])
const grades = computed(() => first.value?.grades ?? [])
const dimension = computed(() => first.value?.dimension ?? 'clearance')
const figure = (value: number) => digits(value, dimension.value)
const text = (value: number) => inUnit(value, dimension.value)
const length = (millimetres: number) => digits(millimetres, 'clearance')
const scale = computed(() => {
  const figures = props.views.flatMap((v) => [...(v.span ?? []), ...(v.second ? [v.second.value_mm] : [])])
  const windows = props.views.flatMap((v) => (v.window ? Object.values(ends(v.window, figures)) : []))
  if (!windows.length) return { low: 0, high: 1 }
  const margin = (Math.max(...windows) - Math.min(...windows)) * 0.25 || 0.001
  return { low: Math.min(...windows, ...figures) - margin, high: Math.max(...windows, ...figures) + margin }
})
const at = (value: number) => `${((value - scale.value.low) / (scale.value.high - scale.value.low)) * 100}%`
const words = {
  inside: t('common-ok'),
  outside: t('bench-out-of-spec'),
  'too-close': t('bench-too-close-to-call'),
} as const
const byBore = computed(() => props.views.some((v) => v.window && v.window.target !== first.value?.window?.target))
/** Nothing can be told of it yet: one line says so. */
const empty = computed(() =>
  props.views.every((v) => !v.span && !v.series.some((m) => m.value_mm != null) && !v.proposed),
)
/** What has room for two columns on paper. */
const narrow = computed(() => props.fixed && props.views.length > 3 && props.views.every((v) => !v.shells && !v.second))
const unchosen = computed(() => props.views.filter((v) => v.proposed && !v.shells))
const details = computed(() =>
  props.views.filter(
    (v) => v.span && (v.positions.length || v.parting_line.length || v.plus_form || v.minus_form || v.second),
  ),
)

function takeAll() {
  const choices = unchosen.value.flatMap(({ number, proposed }) => (proposed ? [{ number, ...proposed }] : []))
  if (first.value) emit('choose', first.value.id, choices)
}

function change(view: View, which: 'upper' | 'lower', event: Event) {
  const grade = (event.target as HTMLSelectElement).value
  const now = view.shells ?? view.proposed ?? { upper: grade, lower: grade }
  emit('choose', view.id, [{ number: view.number, ...now, [which]: grade }])
}

/** The least and the most of it, as one figure where they read the same. */
function leastToMost(span: number[]): string {
  const [least, most] = [figure(span[0]!), figure(span.at(-1)!)]
  return least === most ? least : t('common-to', { low: least, high: most })
}

/** What the figure means, in words. */
function verdict(view: View): string {
  if (view.to_file_mm != null) return t('bench-file-off', { difference: text(view.to_file_mm) })
  if (!view.decision) return ''
  const mark = view.decision === 'outside' ? '▲ ' : view.decision === 'too-close' ? '≈ ' : ''
  return mark + words[view.decision] + (view.accepted && view.decision === 'outside' ? t('bench-accepted') : '')
}

const known = (value: number | null | undefined) => (value == null ? '–' : length(value))
/** Out-of-round and taper; a dash where the readings cannot tell. */
const form = (error: View['plus_form']) => (error ? `${known(error.out_of_round_mm)} / ${known(error.taper_mm)}` : '')
defineExpose({ takeAll })
</script>

<template>
  <figure v-if="first" class="min-w-0 break-inside-avoid" :data-test="`clearance-${first.id}`">
    <figcaption class="flex flex-wrap items-baseline justify-between gap-x-4">
      <span class="text-xl font-semibold">{{ first.name }}</span>
      <span v-if="first.window" class="text-dim">
        {{ say(first.window_words) }}{{ byBore ? t('bench-by-the-bore') : '' }}
      </span>
      <span v-else class="text-dim">{{ t('bench-its-limits-depend-on-the-bore') }}</span>
      <button
        v-if="!fixed && unchosen.length"
        class="key min-h-11"
        :disabled="busy"
        data-test="take-shells"
        @click="takeAll"
      >
        {{ t('bench-use-proposed-shells') }}
      </button>
    </figcaption>
    <p v-if="empty && !fixed" class="border-b border-rule text-dim">{{ t('bench-needs-more-measurements') }}</p>
    <template v-else>
      <SeriesPicture v-for="view in views.filter((v) => v.series.length)" :key="view.number" :view="view" />
      <div :class="narrow && 'print:columns-2 print:gap-x-4'">
        <div
          v-for="view in views.filter((v) => v.span || !v.series.length)"
          :key="view.number"
          :class="[
            'grid grid-cols-[1.5rem_1fr_12.5rem] items-center gap-x-3',
            'border-b border-rule py-0.5 break-inside-avoid print:py-0',
            grades.length > 0 && 'sm:grid-cols-[1.5rem_1fr_12.5rem_auto]',
            narrow && 'print:grid-cols-[1.5rem_1fr_8rem]',
          ]"
          :data-test="`${view.id}-${view.number}`"
          :data-decision="view.decision ?? 'open'"
        >
          <span class="text-lg font-semibold">{{ views.length > 1 ? view.number : '' }}</span>
          <span class="relative block h-8 print:h-4">
            <template v-if="view.window">
              <span
                class="absolute inset-y-0 border-layout bg-layout/12"
                :class="[view.window.low != null && 'border-l-2', view.window.high != null && 'border-r-2']"
                :style="{
                  left: view.window.low == null ? '0' : at(view.window.low),
                  right: view.window.high == null ? '0' : `calc(100% - ${at(view.window.high)})`,
                }"
              />
              <span
                v-if="view.window.low != null && view.window.high != null"
                class="absolute inset-y-0 border-l border-dashed border-layout"
                :style="{ left: at(view.window.target) }"
              />
            </template>
            <template v-if="view.span && view.reach && view.window">
              <span
                class="absolute top-1/2 h-px bg-dim"
                :style="{ left: at(view.reach[0]!), right: `calc(100% - ${at(view.reach[1]!)})` }"
              />
              <span
                class="absolute top-1/2 h-2.5 -translate-y-1/2"
                :class="view.decision === 'outside' && view.to_file_mm == null ? 'bg-wrong' : 'bg-ink'"
                :style="{ left: at(view.span[0]!), right: `calc(100% - ${at(view.span[2]!)})`, minWidth: '4px' }"
              />
            </template>
            <span
              v-if="view.second"
              class="absolute top-1/2 size-3 -translate-x-1/2 -translate-y-1/2 rotate-45 border-2 bg-plate"
              :class="view.second.agrees ? 'border-ink' : 'border-wrong'"
              :style="{ left: at(view.second.value_mm) }"
              :title="t('bench-second-method', { clearance: text(view.second.value_mm) })"
            />
          </span>
          <span class="leading-tight">
            <template v-if="view.span">
              <span class="font-semibold">{{ leastToMost(view.span) }}</span>
              <span
                class="ml-2"
                :class="
                  view.to_file_mm != null
                    ? 'font-semibold text-layout'
                    : view.decision === 'outside'
                      ? 'font-semibold text-wrong'
                      : view.decision === 'too-close'
                        ? 'font-semibold'
                        : 'text-dim'
                "
              >
                {{ verdict(view) }}
              </span>
            </template>
            <span v-else class="text-dim">{{
              view.proposed
                ? t('bench-with-proposed-shells', { proposed_mm: length(view.proposed_mm ?? 0) })
                : t('common-not-measured')
            }}</span>
            <span
              v-if="view.second && !view.second.agrees"
              class="block text-wrong"
              :title="t(view.second.trust === 'first' ? 'bench-use-gauge' : 'bench-use-strip')"
            >
              {{
                t('bench-strip-and-gauge-disagree-use', {
                  method: view.second.trust === 'first' ? t('bench-gauge') : t('bench-strip'),
                })
              }}
            </span>
          </span>
          <span v-if="grades.length && !fixed" class="col-span-2 col-start-2 flex gap-2 sm:col-span-1 sm:col-start-4">
            <select
              v-for="which in ['upper', 'lower'] as const"
              :key="which"
              class="min-h-11 border-b border-ink bg-transparent"
              :class="!view.shells && 'text-dim italic'"
              :aria-label="
                t('bench-shell', { number: view.number, side: which === 'upper' ? t('bench-upper') : t('bench-lower') })
              "
              :disabled="busy"
              :value="(view.shells ?? view.proposed)?.[which] ?? ''"
              @change="change(view, which, $event)"
            >
              <option v-if="!view.shells && !view.proposed" value="" disabled>
                {{ which === 'upper' ? t('bench-upper') : t('bench-lower') }}
              </option>
              <option v-for="grade in grades" :key="grade" :value="grade">
                {{ which === 'upper' ? t('bench-upper') : t('bench-lower') }} {{ grade }}
              </option>
            </select>
          </span>
          <span v-else-if="view.shells" class="text-dim max-sm:col-span-2 max-sm:col-start-2 max-sm:pb-1"
            >{{ view.shells.upper }} / {{ view.shells.lower }}</span
          >
        </div>
      </div>
    </template>
    <details v-if="details.length" class="mt-1" :open="fixed" data-test="positions">
      <summary class="min-h-11 cursor-pointer content-center py-1 text-dim underline underline-offset-2 print:hidden">
        {{ t('bench-all-positions-taper-and-out-of') }}
      </summary>
      <ScrollBox :label="t('bench-positions', { first: first.name })">
        <table class="w-full text-left">
          <thead class="text-dim">
            <tr>
              <td />
              <td />
              <th class="pr-3 font-normal whitespace-nowrap" colspan="2" scope="colgroup">
                {{ t('bench-out-of-round-taper') }}
              </th>
              <td />
              <th v-if="views.some((v) => v.second)" class="font-normal" scope="col">{{ t('bench-second') }}</th>
            </tr>
            <tr>
              <th class="pr-3 font-normal" scope="col">{{ t('common-no') }}</th>
              <th class="pr-3 font-normal" scope="col">{{ t('bench-clearance-by-place') }}</th>
              <th class="pr-3 font-normal" scope="col">{{ t('bench-outer') }}</th>
              <th class="pr-3 font-normal" scope="col">{{ t('bench-inner') }}</th>
              <th class="pr-3 font-normal" scope="col">U</th>
              <th v-if="views.some((v) => v.second)" class="font-normal whitespace-nowrap" scope="col">
                {{ t('bench-way-taper') }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="view in details" :key="view.number" class="border-t border-rule">
              <td class="py-0.5 pr-3 font-semibold">{{ view.number }}</td>
              <td class="pr-3" :class="view.positions.length <= 3 && 'print:whitespace-nowrap'">
                <span
                  v-for="position in view.positions"
                  :key="position.name"
                  class="mr-3 inline-block whitespace-nowrap print:mr-2"
                >
                  <span class="text-dim">{{ position.name }}</span> {{ length(position.value_mm) }}
                </span>
                <span v-if="view.parting_line.length" class="block text-dim" data-test="parting-line">
                  {{ ' ' }}{{ t('bench-at-the-parting-line-not-judged') }}
                  <span
                    v-for="position in view.parting_line"
                    :key="position.name"
                    class="mr-3 inline-block whitespace-nowrap"
                    >{{ position.name }} {{ length(position.value_mm) }}</span
                  >
                </span>
              </td>
              <td class="pr-3 whitespace-nowrap">{{ form(view.plus_form) }}</td>
              <td class="pr-3 whitespace-nowrap">{{ form(view.minus_form) }}</td>
              <td class="pr-3 whitespace-nowrap">±{{ length(view.uncertainty) }}</td>
              <td
                v-if="view.second"
                class="whitespace-nowrap"
                :class="!view.second.agrees && 'font-semibold text-wrong'"
              >
                {{ view.second.agrees ? '' : '▲ ' }}{{ length(view.second.value_mm) }},
                {{ length(view.second.taper_mm) }}
              </td>
            </tr>
          </tbody>
        </table>
      </ScrollBox>
    </details>
  </figure>
</template>
