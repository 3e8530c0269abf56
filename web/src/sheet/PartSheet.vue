<script setup lang="ts">
// The parts of an engine with batch, serial and what was done to them.
import type { Schemas } from '../api/client'
import ScrollBox from '../ui/ScrollBox.vue'
import { computed } from 'vue'
import { partNotes } from '../ui/partNotes'
import { stamps } from './stamps'
import { t } from './texts'

const props = defineProps<{ parts: Schemas['SlotView'][]; signed?: { by?: string | null; at?: string | null } }>()
const said = computed(() => stamps(props.parts, props.signed))
const words = { new: t('common-new'), used: t('common-used'), reworked: t('common-used-and-machined') } as const
</script>

<template>
  <ScrollBox :label="t('common-parts')">
    <table class="mt-2 w-full border-collapse text-left">
      <thead class="text-dim">
        <tr class="border-b border-ink">
          <th class="py-1 pr-3 font-normal">{{ t('common-part') }}</th>
          <th class="pr-3 font-normal">{{ t('common-description') }}</th>
          <th class="pr-3 font-normal">{{ t('common-batch') }}</th>
          <th class="pr-3 font-normal">{{ t('common-serial') }}</th>
          <th class="pr-3 font-normal">{{ t('common-condition') }}</th>
          <th class="font-normal">
            {{ t('sheet-entered') }}<span v-if="said.head">: {{ said.head }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="slot in parts"
          :key="slot.id"
          class="break-inside-avoid border-b border-rule align-baseline"
          :data-test="`part-${slot.id}`"
        >
          <th scope="row" class="py-1 pr-3 font-semibold whitespace-nowrap print:py-0">{{ slot.name }}</th>
          <template v-if="slot.part">
            <td class="min-w-40 pr-3">
              {{ slot.part.reference
              }}<span v-if="partNotes(slot.part, slot.sizes).length" class="block text-dim print:ml-2 print:inline">{{
                partNotes(slot.part, slot.sizes).join('; ')
              }}</span>
              <span v-for="(old, at) in slot.before" :key="at" class="block text-dim line-through"
                >{{ old.reference }} {{ old.serial }}</span
              >
            </td>
            <td class="pr-3 whitespace-nowrap">{{ slot.part.batch }}</td>
            <td class="pr-3 whitespace-nowrap">{{ slot.part.serial }}</td>
            <td class="pr-3">
              {{ words[slot.part.condition]
              }}<template v-if="slot.part.uses">{{ t('sheet-previous-engines', { uses: slot.part.uses }) }}</template>
            </td>
            <td class="text-dim whitespace-nowrap">{{ said.of(slot) }}</td>
          </template>
          <td v-else colspan="5" class="text-dim">{{ t('common-open') }}</td>
        </tr>
      </tbody>
    </table>
  </ScrollBox>
</template>
