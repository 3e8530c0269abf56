<script setup lang="ts">
// Every member of a clearance on one scale with its window, so that the odd one shows.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { length, lengthText } from '../ui/units'

type View = Schemas['ClearanceView']
const props = withDefaults(defineProps<{ views: View[]; busy?: boolean; fixed?: boolean }>(), { busy: false, fixed: false })
/** Shells for one bore, in the shape they are recorded in. */
type Choice = { number: number; upper: string; lower: string }
const emit = defineEmits<{ choose: [clearance: string, choices: Choice[]] }>()

const first = computed(() => props.views[0])
const grades = computed(() => first.value?.grades ?? [])
const scale = computed(() => {
  const window = first.value?.window
  if (!window) return { low: 0, high: 1 }
  const figures = props.views.flatMap((v) => [...(v.span_mm ?? []), v.second?.value_mm ?? window.target_mm])
  const width = window.high_mm - window.low_mm
  return { low: Math.min(window.low_mm, ...figures) - width * 0.25, high: Math.max(window.high_mm, ...figures) + width * 0.25 }
})
const at = (mm: number) => `${((mm - scale.value.low) / (scale.value.high - scale.value.low)) * 100}%`
const words = { inside: 'In', outside: 'Out', 'too-close': 'Too close to call' } as const
const unproposed = computed(() => props.views.filter((v) => v.proposed && !v.shells))

function takeAll() {
  const choices = unproposed.value.flatMap(({ number, proposed }) => (proposed ? [{ number, ...proposed }] : []))
  if (first.value) emit('choose', first.value.id, choices)
}

function change(view: View, which: 'upper' | 'lower', event: Event) {
  const grade = (event.target as HTMLSelectElement).value
  const now = view.shells ?? view.proposed ?? { upper: grade, lower: grade }
  emit('choose', view.id, [{ number: view.number, ...now, [which]: grade }])
}
</script>

<template>
  <figure v-if="first" class="min-w-0 break-inside-avoid" :data-test="`clearance-${first.id}`">
    <figcaption class="flex flex-wrap items-baseline justify-between gap-x-4">
      <span class="text-xl font-semibold">{{ first.name }}</span>
      <span class="text-dim">
        {{ length(first.window.low_mm) }} to {{ lengthText(first.window.high_mm) }}, best {{ length(first.window.target_mm) }}
      </span>
      <button v-if="!fixed && unproposed.length" class="key min-h-11" :disabled="busy" data-test="take-shells" @click="takeAll">
        Take the proposed shells
      </button>
    </figcaption>
    <div
      v-for="view in views"
      :key="view.number"
      class="grid grid-cols-[1.5rem_1fr_9.5rem] items-center gap-x-3 border-b border-rule py-0.5"
      :class="grades.length > 0 && 'sm:grid-cols-[1.5rem_1fr_9.5rem_auto]'"
      :data-test="`${view.id}-${view.number}`"
      :data-decision="view.decision ?? 'open'"
    >
      <span class="text-lg font-semibold">{{ view.number }}</span>
      <span class="relative block h-9">
        <span class="absolute inset-y-0 border-x-2 border-layout bg-layout/12" :style="{ left: at(view.window.low_mm), right: `calc(100% - ${at(view.window.high_mm)})` }" />
        <span class="absolute inset-y-0 border-l border-dashed border-layout" :style="{ left: at(view.window.target_mm) }" />
        <template v-if="view.span_mm">
          <span
            class="absolute top-1/2 h-px bg-dim"
            :style="{ left: at(view.span_mm[0]! - view.uncertainty_mm), right: `calc(100% - ${at(view.span_mm[2]! + view.uncertainty_mm)})` }"
          />
          <span
            class="absolute top-1/2 h-2.5 -translate-y-1/2"
            :class="view.decision === 'outside' ? 'bg-wrong' : 'bg-ink'"
            :style="{ left: at(view.span_mm[0]!), right: `calc(100% - ${at(view.span_mm[2]!)})`, minWidth: '4px' }"
          />
        </template>
        <span
          v-if="view.second"
          class="absolute top-1/2 size-3 -translate-x-1/2 -translate-y-1/2 rotate-45 border-2 bg-plate"
          :class="view.second.agrees ? 'border-ink' : 'border-wrong'"
          :style="{ left: at(view.second.value_mm) }"
          :title="`Second method: ${lengthText(view.second.value_mm)}`"
        />
      </span>
      <span class="leading-tight">
        <template v-if="view.span_mm">
          <span class="font-medium">{{ length(view.span_mm[1]!) }}</span>
          <span class="ml-2" :class="view.decision === 'outside' ? 'font-semibold text-wrong' : view.decision === 'too-close' ? 'font-semibold' : 'text-dim'">
            {{ view.decision === 'outside' ? '▲ ' : view.decision === 'too-close' ? '≈ ' : '' }}{{ view.decision ? words[view.decision] : '' }}
          </span>
        </template>
        <span v-else class="text-dim">{{ view.proposed ? `${length(view.proposed_mm ?? 0)} with the proposal` : 'open' }}</span>
        <span v-if="view.second && !view.second.agrees" class="block text-wrong" :title="`Trust the ${view.second.trust} method`">
          methods disagree, trust {{ view.second.trust === 'first' ? 'measured' : 'strip' }}
        </span>
      </span>
      <span v-if="grades.length && !fixed" class="col-span-2 col-start-2 flex gap-2 sm:col-span-1 sm:col-start-4">
        <select
          v-for="which in ['upper', 'lower'] as const"
          :key="which"
          class="min-h-9 border-b border-ink bg-transparent"
          :class="!view.shells && 'text-dim italic'"
          :aria-label="`Shell ${view.number} ${which}`"
          :disabled="busy || !view.proposed"
          :value="(view.shells ?? view.proposed)?.[which] ?? ''"
          @change="change(view, which, $event)"
        >
          <option v-for="grade in grades" :key="grade" :value="grade">{{ which === 'upper' ? 'up' : 'low' }} {{ grade }}</option>
        </select>
      </span>
      <span v-else-if="view.shells" class="text-dim">{{ view.shells.upper }} / {{ view.shells.lower }}</span>
    </div>
    <p class="mt-1 text-dim">
      Bar: least to most; line: with uncertainty U (k = 2)<template v-if="views.some((v) => v.second)">; diamond: plastic strip</template>.
    </p>
  </figure>
</template>
