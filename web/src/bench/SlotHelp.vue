<script setup lang="ts">
// A castellated nut from above: how far on its next slot is from the pin hole.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '../api/client'
import { t } from './texts'

const props = defineProps<{ slots: number; fastener: string }>()
const past = ref('')
const figure = computed(() => Number(past.value.replace(',', '.')))
const known = computed(() => past.value.trim() !== '' && Number.isFinite(figure.value))
const { data } = useQuery({
  queryKey: ['castellated', () => props.slots, figure],
  enabled: known,
  queryFn: async () =>
    take(
      await api.POST('/api/calc/{name}', {
        params: { path: { name: 'castellated' } },
        body: { slots: props.slots, past_slot_deg: figure.value },
      }),
    ) as { advance_deg: number },
})
const pitch = computed(() => 360 / props.slots)
</script>

<template>
  <div class="grid grid-cols-[auto_1fr] items-center gap-4">
    <svg viewBox="-50 -50 100 100" class="size-28" role="img" :aria-label="t('bench-a-nut-with-slots', { slots })">
      <circle r="44" fill="var(--face)" stroke="var(--ink)" stroke-width="1.5" />
      <g :transform="`rotate(${known ? figure : pitch / 2})`">
        <rect
          v-for="slot in slots"
          :key="slot"
          x="-5"
          y="-46"
          width="10"
          height="16"
          fill="var(--plate)"
          stroke="var(--ink)"
          stroke-width="1.2"
          :transform="`rotate(${(slot - 1) * pitch})`"
        />
      </g>
      <circle r="26" fill="var(--plate)" stroke="var(--ink)" stroke-width="1.5" />
      <line y1="-48" y2="48" stroke="var(--layout)" stroke-width="3" stroke-dasharray="7 4" />
      <path
        v-if="known && data"
        d="M-14-33A36 36 0 0 1 14-33l-2-7M14-33l-7 2"
        fill="none"
        stroke="var(--paint)"
        stroke-width="3.5"
      />
    </svg>
    <dl class="grid grid-cols-[auto_1fr] gap-x-4 leading-snug">
      <dt class="text-dim">
        <label for="past-slot">{{ t('bench-last-slot-past-the-hole') }}</label>
      </dt>
      <dd>
        <input
          id="past-slot"
          v-model="past"
          inputmode="decimal"
          autocomplete="off"
          class="w-16 border-b border-ink bg-transparent"
          @keydown.enter.stop
        />
        °
      </dd>
      <dt class="text-dim">{{ t('bench-to-the-next-slot') }}</dt>
      <dd class="text-2xl font-semibold" data-test="advance">
        {{ known && data ? `${data.advance_deg.toFixed(0)}°` : t('bench-at-most', { pitch: pitch.toFixed(0) }) }}
      </dd>
    </dl>
  </div>
</template>
