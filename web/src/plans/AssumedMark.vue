<script setup lang="ts">
// That a figure was assumed by a template: it is confirmed by a tap.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { say } from '../ui/units'
import type { Change } from './useChange'
import { t } from './texts'

const props = defineProps<{
  assumptions: Schemas['Assumption'][]
  /** The table, such as `fastener[2]`. */
  path: string
  /** Keys of the fields that the mark stands for. */
  fields: string[]
  change?: Change
}>()
const here = computed(() => props.assumptions.filter((of) => of.path === props.path && props.fields.includes(of.key)))
const words = computed(() =>
  here.value.map((of) => t('plans-of-name', { of: say(of.of), name: say(of.what) })).join('; '),
)
const confirm = () => props.change?.([{ type: 'confirm', path: props.path, fields: here.value.map((of) => of.key) }])
</script>

<template>
  <template v-if="here.length">
    <button
      v-if="change"
      type="button"
      class="quiet-key min-h-6 whitespace-nowrap decoration-dotted decoration-2"
      :aria-label="t('plans-confirm-assumed', { words })"
      @click="confirm"
    >
      {{ t('plans-assumed-confirm') }}
    </button>
    <span v-else class="text-dim underline decoration-dotted decoration-2 underline-offset-4">{{
      t('plans-assumed')
    }}</span>
  </template>
</template>
