<script setup lang="ts">
// Every clearance of the engine in one line each: which are in, out, or too close to call.
import type { Schemas } from '../api/client'
import { t } from './texts'

defineProps<{ lines: Schemas['ClearanceLine'][]; build: string }>()
const words = {
  inside: t('common-ok'),
  outside: t('engine-out-of-spec'),
  'too-close': t('engine-too-close-to-call'),
} as const
const signs: Partial<Record<keyof typeof words, string>> = { outside: '▲', 'too-close': '≈' }
</script>

<template>
  <ul data-test="clearance-lines">
    <li
      v-for="line in lines"
      :key="line.id"
      class="flex flex-wrap items-center justify-between gap-x-4 border-b border-rule py-1.5"
      :data-test="`line-${line.id}`"
    >
      <RouterLink
        v-if="line.operation"
        :to="`/engines/${build}/bench/${line.operation}`"
        class="underline-offset-4 hover:underline"
        >{{ line.name }}</RouterLink
      >
      <span v-else>{{ line.name }}</span>
      <span class="flex flex-wrap gap-1">
        <span
          v-for="(decision, at) in line.members"
          :key="at"
          class="grid size-7 place-items-center border text-[0.9375rem] leading-none"
          :class="
            decision === 'outside'
              ? 'border-wrong bg-wrong font-semibold text-on-wrong'
              : decision === 'too-close'
                ? 'border-2 border-dotted border-ink font-semibold'
                : decision === 'inside'
                  ? 'border-ink'
                  : 'border-dashed border-rule text-dim'
          "
          :title="`${line.name} ${at + 1}: ${decision ? words[decision] : t('common-not-measured')}`"
        >
          <span aria-hidden="true">{{ (decision && signs[decision]) ?? at + 1 }}</span>
          <span class="sr-only">{{ at + 1 }} {{ decision ? words[decision] : t('common-not-measured') }}</span>
        </span>
      </span>
    </li>
  </ul>
</template>
