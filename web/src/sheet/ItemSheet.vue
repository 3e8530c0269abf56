<script setup lang="ts">
// Items that were confirmed, by whom and when.
import type { Schemas } from '../api/client'
import { computed } from 'vue'
import { stamps } from './stamps'
import { t } from './texts'

const props = defineProps<{ items: Schemas['ItemView'][]; signed?: { by?: string | null; at?: string | null } }>()
const stampOf = (item: Schemas['ItemView']) => ({ by: item.seq ? item.by?.name : null, at: item.at })
const said = computed(() => stamps(props.items.map(stampOf), props.signed))
</script>

<template>
  <p v-if="said.head" class="mt-1 text-right text-dim print:mt-0">{{ said.head }}</p>
  <ul class="print:columns-2 print:gap-x-6">
    <li
      v-for="item in items"
      :key="item.id"
      class="grid grid-cols-[1.5rem_1fr_auto] gap-x-2 py-0.5 print:py-0 break-inside-avoid"
    >
      <span aria-hidden="true">{{ item.seq ? '✓' : '–' }}</span>
      <span>{{ item.text }}</span>
      <span class="text-dim">{{ item.seq ? said.of(stampOf(item)) : t('common-open') }}</span>
    </li>
  </ul>
</template>
