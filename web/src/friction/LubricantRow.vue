<script setup lang="ts">
// One lubricant: its friction drawn on a scale that all of them share.
import type { Schemas } from '../api/client'
import { when } from '../ui/units'
import { t } from './texts'

const props = defineProps<{
  lubricant: Schemas['Lubricant'] | Schemas['ShopLubricant']
  most: number
  changes?: boolean
}>()
const emit = defineEmits<{ change: [] }>()
const own = 'by' in props.lubricant
const films = { dry: t('friction-dry-2'), lubricant: '', sealant: t('friction-sealer-or-threadlocker-2') }
const faces = ['thread', 'bearing'] as const
const at = (mu: number) => (mu / props.most) * 100
const same = () =>
  faces.every(() =>
    (['low', 'typical', 'high'] as const).every((end) => props.lubricant[end].thread === props.lubricant[end].bearing),
  )
</script>

<template>
  <li
    class="grid items-center gap-x-5 gap-y-1 border-b border-rule py-2 sm:grid-cols-[16rem_1fr_12rem]"
    :class="own && (lubricant as Schemas['ShopLubricant']).retired && 'text-dim'"
  >
    <div>
      <span class="font-semibold">{{ lubricant.name }}</span>
      <span v-if="films[lubricant.film ?? 'lubricant']" class="ml-2 text-dim">{{
        films[lubricant.film ?? 'lubricant']
      }}</span>
      <span v-if="own && (lubricant as Schemas['ShopLubricant']).retired" class="ml-2">{{
        t('friction-retired')
      }}</span>
    </div>
    <div class="grid gap-0.5">
      <div v-for="face in same() ? (['thread'] as const) : faces" :key="face" class="flex items-center gap-3">
        <svg
          viewBox="0 0 100 6"
          preserveAspectRatio="none"
          class="h-5 w-16 min-w-0 grow"
          role="img"
          :aria-label="t('friction-to', { low: lubricant.low[face], high: lubricant.high[face] })"
        >
          <line x1="0" x2="100" y1="3" y2="3" stroke="var(--rule)" stroke-width="0.4" />
          <rect
            :x="at(lubricant.low[face])"
            y="1.4"
            :width="at(lubricant.high[face] - lubricant.low[face])"
            height="3.2"
            fill="var(--layout)"
            opacity="0.35"
          />
          <rect :x="at(lubricant.typical[face]) - 0.25" y="0" width="0.5" height="6" fill="var(--ink)" />
        </svg>
        <span class="w-44 shrink-0 max-sm:w-36">
          μ {{ lubricant.low[face].toFixed(2) }} –
          <span class="font-semibold">{{ lubricant.typical[face].toFixed(2) }}</span> –
          {{ lubricant.high[face].toFixed(2) }}
          <span v-if="!same()" class="text-dim">{{ face === 'thread' ? t('common-thread-2') : t('common-head') }}</span>
        </span>
      </div>
    </div>
    <div v-if="own" class="flex items-baseline justify-between gap-3">
      <span class="text-dim">{{ t('friction-version', { version: lubricant.version }) }}</span>
      <button v-if="changes" class="quiet-key py-1" :data-test="`change-${lubricant.id}`" @click="emit('change')">
        {{ t('common-change') }}
      </button>
    </div>
    <p v-if="own" class="text-dim sm:col-span-3">
      {{ lubricant.source }}, {{ (lubricant as Schemas['ShopLubricant']).by }},
      {{ when((lubricant as Schemas['ShopLubricant']).at) }}
    </p>
  </li>
</template>
