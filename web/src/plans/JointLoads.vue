<script setup lang="ts">
// What is known of a joint's clamp load, part by part, with the formula of each figure and its margin.
import type { Schemas } from '../api/client'
import { say } from '../ui/units'
import ScrollBox from '../ui/ScrollBox.vue'
import { t } from './texts'

/** `heading` is the level of its headings, below what they stand under. */
withDefaults(defineProps<{ sheet: Schemas['GroupSheet'][]; heading?: 'h2' | 'h4' }>(), { heading: 'h4' })
const parts: Record<Schemas['SheetPart'], string> = {
  assembly: t('plans-after-tightening'),
  running: t('plans-running'),
  temperature: t('plans-hot-and-cold'),
  settling: t('plans-settling'),
  pressure: t('plans-pressure'),
  engagement: t('plans-thread-engagement'),
}
const inParts = (lines: Schemas['SheetLine'][]) =>
  (Object.keys(parts) as Schemas['SheetPart'][])
    .map((part) => ({ part, lines: lines.filter((line) => line.part === part) }))
    .filter((of) => of.lines.length)
const verdicts: Record<Schemas['MarginVerdict'], string> = {
  holds: t('plans-holds'),
  'holds-by-little': t('plans-small-margin'),
  'does-not-hold': t('plans-does-not-hold'),
}
</script>

<template>
  <section v-for="group in sheet" :key="group.name" class="mt-3 break-inside-avoid" data-test="joint-loads">
    <component :is="heading" class="text-xl font-semibold">
      {{ group.name }} <span class="font-normal text-dim">{{ group.fastener }}, {{ group.lubricant }}</span>
    </component>
    <ScrollBox :label="t('plans-loads-and-margins-of', { group: group.name })">
      <table class="mt-1 w-full border-collapse text-left">
        <thead>
          <tr class="border-b border-ink text-dim">
            <th class="py-1 pr-4 font-semibold">{{ t('plans-load') }}</th>
            <th class="py-1 pr-4 font-semibold">{{ t('plans-value') }}</th>
            <th class="py-1 pr-4 font-semibold">{{ t('plans-margin') }}</th>
            <th class="hidden py-1 font-semibold sm:table-cell print:table-cell">{{ t('plans-formula-source') }}</th>
          </tr>
        </thead>
        <tbody v-for="of in inParts(group.lines)" :key="of.part">
          <tr>
            <th colspan="4" class="pt-3 pb-1 text-layout">{{ parts[of.part] }}</th>
          </tr>
          <tr v-for="line in of.lines" :key="line.what" class="border-b border-rule align-baseline">
            <td class="py-1 pr-4 font-semibold">{{ line.what }}</td>
            <td class="py-1 pr-4">
              {{ say(line.value)
              }}<span class="block text-[0.875rem] text-dim sm:hidden print:hidden"
                >{{ line.formula }}; {{ line.source }}</span
              >
            </td>
            <td
              class="py-1 pr-4 whitespace-nowrap"
              :class="line.verdict === 'does-not-hold' && 'font-semibold text-wrong'"
            >
              <template v-if="line.verdict && line.margin != null"
                >{{ line.verdict === 'does-not-hold' ? '▲ ' : '' }}{{ line.margin.toFixed(2) }}
                <span class="text-dim" :class="line.verdict !== 'holds' && 'font-semibold text-ink'">{{
                  verdicts[line.verdict]
                }}</span></template
              >
            </td>
            <td class="hidden py-1 text-[0.9375rem] text-dim sm:table-cell print:table-cell">
              {{ line.formula }}; {{ line.source }}
            </td>
          </tr>
        </tbody>
      </table>
    </ScrollBox>
  </section>
  <p v-if="!sheet.length" class="mt-2 text-dim">
    {{ t('plans-clamp-load-cannot-be-computed-yet') }}
  </p>
</template>
