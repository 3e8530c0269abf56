<script setup lang="ts">
// The friction of one kind of fastener on one lubricant: K of all its bolts, by batch, and what that does to a clamp
// load.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { when } from '../ui/units'
import { t } from './texts'

const props = defineProps<{ measured: Schemas['MeasuredFrictionView'] }>()
const percent = (share: number) => `${Math.abs(Math.round((share - 1) * 100))} %`
/** The scale that its batches are drawn on: two of their spreads beyond the outermost. */
const scale = computed(() => {
  const ends = props.measured.batches.flatMap(({ median, spread }) => [median - 2.5 * spread, median + 2.5 * spread])
  const [low, high] = [Math.min(...ends), Math.max(...ends)]
  const pad = Math.max((high - low) * 0.1, 0.005)
  return { low: low - pad, high: high + pad }
})
const at = (k: number) => ((k - scale.value.low) / (scale.value.high - scale.value.low)) * 100
</script>

<template>
  <li class="grid gap-x-6 gap-y-1 border-b border-rule py-3 md:grid-cols-[18rem_1fr]" data-test="measured">
    <div>
      <p class="text-lg leading-snug font-semibold">{{ measured.fastener }}</p>
      <p>{{ measured.lubricant }}</p>
      <p class="mt-1 text-3xl font-semibold">
        K {{ measured.median.toFixed(3) }}
        <span v-if="measured.count > 1" class="text-lg font-normal text-dim">± {{ measured.spread.toFixed(3) }}</span>
      </p>
      <p>
        {{
          t('friction-bolts', {
            count: measured.count,
            value: measured.only_in_vice
              ? t('friction-in-the-vice-only-targets-use')
              : measured.enough
                ? ''
                : t('common-too-few-to-use'),
          })
        }}
      </p>
      <p v-if="measured.count > 1" class="text-dim">
        {{
          t('friction-at-one-torque-clamp-load-is', {
            less: percent(measured.load[0]!),
            more: percent(measured.load[1]!),
          })
        }}
      </p>
    </div>
    <table class="w-full self-start">
      <caption class="sr-only">
        {{
          t('friction-by-batch-the-latest-last')
        }}
      </caption>
      <tbody>
        <tr v-for="of in measured.batches" :key="of.batch + of.at" class="border-b border-rule last:border-0">
          <th scope="row" class="w-36 py-1 pr-3 text-left font-normal">
            {{ of.batch || t('friction-no-batch')
            }}<span v-if="of.in_vice" class="block font-semibold" data-test="in-vice">{{
              t('friction-in-the-vice')
            }}</span
            ><span class="block text-sm text-dim">{{ when(of.at) }}</span>
          </th>
          <td class="w-auto">
            <svg
              viewBox="0 0 100 8"
              preserveAspectRatio="none"
              class="h-8 w-full"
              role="img"
              :aria-label="t('friction-k-spread', { median: of.median.toFixed(3), spread: of.spread.toFixed(3) })"
            >
              <rect
                :x="at(measured.median - 2 * measured.spread)"
                y="0"
                :width="
                  Math.max(0.3, at(measured.median + 2 * measured.spread) - at(measured.median - 2 * measured.spread))
                "
                height="8"
                fill="var(--rule)"
                opacity="0.5"
              />
              <line
                :x1="at(of.median - 2 * of.spread)"
                :x2="at(of.median + 2 * of.spread)"
                y1="4"
                y2="4"
                stroke="var(--layout)"
                stroke-width="1.2"
              />
              <rect
                :x="at(of.median) - 0.35"
                y="1"
                width="0.7"
                height="6"
                :fill="of.in_vice ? 'none' : 'var(--ink)'"
                stroke="var(--ink)"
                stroke-width="0.4"
              />
            </svg>
          </td>
          <td class="w-28 pl-3 text-right whitespace-nowrap">
            {{ of.median.toFixed(3)
            }}<span class="block text-sm text-dim">{{ t('friction-bolts-2', { count: of.count }) }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </li>
</template>
