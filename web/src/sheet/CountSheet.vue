<script setup lang="ts">
// Hardware, counted out or back.
import type { Schemas } from '../api/client'
import { computed } from 'vue'
import { stamps } from './stamps'
import { t } from './texts'

const props = defineProps<{ counts: Schemas['CountView'][]; signed?: { by?: string | null; at?: string | null } }>()
const said = computed(() => stamps(props.counts, props.signed))
</script>

<template>
  <p v-if="said.head" class="mt-1 text-right text-dim print:mt-0">{{ said.head }}</p>
  <ul class="print:columns-2 print:gap-x-4">
    <li
      v-for="line in counts"
      :key="line.id"
      class="grid grid-cols-[1fr_auto_auto] gap-x-4 py-0.5 print:py-0 break-inside-avoid"
      :data-test="`count-${line.id}`"
    >
      <span>
        {{ line.name }}
        <span v-if="line.difference" class="block font-semibold"
          >▲ {{ line.difference
          }}<template v-if="line.accepted">{{ t('common-approved', { accepted: line.accepted }) }}</template></span
        >
      </span>
      <span>{{
        t('sheet-of', {
          count: line.count ?? t('common-open'),
          expected: line.expected,
          note: line.back ? t('sheet-back') : '',
        })
      }}</span>
      <span class="text-dim">{{ said.of(line) }}</span>
    </li>
  </ul>
</template>
