<script setup lang="ts">
// The stages of a procedure with the clamp load that each gives, and how much of the fastener's yield that is.
import type { Schemas } from '../api/client'
import KeptField from './KeptField.vue'
import { digits, say, unitOf } from '../ui/units'
import ScrollBox from '../ui/ScrollBox.vue'
import { t } from './texts'

type Stage = Schemas['StagePage']
const emit = defineEmits<{ edit: [path: string, name: string] }>()
defineProps<{ stages: Stage[]; change?: (path: string, text: string) => Promise<string> }>()
const kn = (value: number) => digits(value, 'force')
const share = (forecast: Schemas['Forecast']) => Math.min(1.2, Math.max(0, forecast.utilisation))
/** A procedure in one line is changed as the line that it is. */
const inLine = (stage: Stage) => stage.path.endsWith('.procedure')
/** Where the table of a stage that is written out stands. */
const tableOf = (stage: Stage) => /^joint\[\d+\]\.stage\[\d+\]/.exec(stage.path)?.[0]
</script>

<template>
  <ScrollBox :label="t('common-stages')">
    <table class="w-full min-w-xl border-collapse text-left" data-test="stages">
      <thead>
        <tr class="label-text border-b border-ink">
          <th class="py-1 pr-3 font-normal">{{ t('plans-stage') }}</th>
          <th class="pr-3 font-normal">{{ t('common-target') }}</th>
          <th class="pr-3 font-normal">{{ t('plans-clamp-load-2', { unit: unitOf('force') }) }}</th>
          <th class="w-40 font-normal">{{ t('plans-of-yield') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(stage, at) in stages" :key="at" class="border-b border-rule align-top" :data-test="`stage-${at}`">
          <td class="py-1 pr-3">
            <button
              v-if="change && tableOf(stage)"
              type="button"
              class="min-h-6 text-left underline underline-offset-4"
              :data-test="`edit-stage-${at}`"
              @click="emit('edit', tableOf(stage)!, stage.name)"
            >
              {{ stage.name }}</button><template v-else>{{ stage.name }}</template
            ><span v-if="stage.group && !stage.name.includes(stage.group)" class="text-dim">, {{ stage.group }}</span>
          </td>
          <td class="py-1 pr-3">
            <template v-if="change && stage.written && !inLine(stage)">
              <KeptField
                class="line-field w-36"
                :value="stage.written"
                :aria-label="t('plans-target', { stage: stage.name })"
                :name="stage.path"
                :keep="(text) => change!(stage.path, text)"
              />
              <span class="ml-2 text-dim">{{ say(stage.words) }}</span>
            </template>
            <template v-else>{{ say(stage.words) }}</template>
          </td>
          <td class="py-1 pr-3 whitespace-nowrap">
            <template v-if="stage.forecast"
              >{{ kn(stage.forecast.low_kn) }} – <b>{{ kn(stage.forecast.typical_kn) }}</b> –
              {{ kn(stage.forecast.high_kn) }}</template
            >
            <span v-else class="text-dim">{{ stage.open ? t('common-missing-spec') : '–' }}</span>
          </td>
          <td class="py-1">
            <span v-if="stage.forecast" class="flex items-center gap-2">
              <svg viewBox="0 0 120 10" class="h-3 w-24 shrink-0" aria-hidden="true">
                <rect width="120" height="10" fill="none" stroke="var(--rule)" />
                <rect
                  :width="share(stage.forecast) * 100"
                  height="10"
                  :fill="stage.forecast.utilisation > 1.0001 ? 'var(--wrong)' : 'var(--layout)'"
                />
                <line x1="100" x2="100" y2="10" stroke="var(--ink)" stroke-width="2" />
              </svg>
              {{ Math.round(stage.forecast.utilisation * 100) }} %
            </span>
          </td>
        </tr>
      </tbody>
    </table>
  </ScrollBox>
</template>
