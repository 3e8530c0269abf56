<script setup lang="ts">
// What is done by hand between pulls: an action, a wait, a bead of sealant, fasteners run down.
import { useEventListener, useNow } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import { vFocus } from '../ui/focus'
import { figure, sentence } from '../ui/units'
import { useHand } from './hand'
import { t } from './texts'

const props = defineProps<{ step: Schemas['ActStep']; tools: Schemas['ToolFit'][]; resisting: string[] }>()
const emit = defineEmits<{ done: [] }>()
const { bench, busy, act } = useHand()
const now = useNow({ interval: 1000 })
/** How long it has to be left alone still, in seconds. */
const left = computed(() =>
  props.step.not_before ? Math.max(0, Math.ceil((Date.parse(props.step.not_before) - now.value.getTime()) / 1000)) : 0,
)
const clock = computed(() => {
  const [h, m, s] = [Math.floor(left.value / 3600), Math.floor(left.value / 60) % 60, left.value % 60]
  return h ? `${h} h ${m} min` : `${m}:${String(s).padStart(2, '0')}`
})
const suiting = computed(() => (props.step.of_group ? props.tools.filter((tool) => tool.suits) : []))
const chosen = ref('')
watch(
  () => [props.step.stage, suiting.value.map((tool) => tool.id).join()],
  () => (chosen.value = suiting.value[0]?.id ?? ''),
  { immediate: true },
)
const tool = computed(() => suiting.value.find((tool) => tool.id === chosen.value))
const key = computed(() => {
  if (props.resisting.length) return t('bench-all-others-run-down')
  if (props.step.of_group) return t('bench-all-run-down')
  return left.value ? t('bench-done-already') : t('common-done')
})

async function done() {
  const { joint, stage } = props.step
  const instrument = chosen.value || null
  const operation = bench.value.operation.id
  if (await act({ type: 'act', operation, joint, stage, except: props.resisting, instrument })) emit('done')
}

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const at = event.target as HTMLElement
  if (event.key !== 'Enter' || event.ctrlKey || event.metaKey || at.closest('button, a, select, input, [role=dialog]'))
    return
  void done()
})
</script>

<template>
  <p class="text-xl text-dim">{{ step.of_group ? t('bench-by-hand') : t('bench-before-the-next-stage') }}</p>
  <p class="headline">{{ step.name }}</p>
  <p class="text-2xl">{{ step.text }}</p>
  <p v-if="step.within_min" class="text-xl">
    {{ t('bench-time-to-tighten-everything', { within_min: figure(step.within_min, 'time') }) }}
  </p>
  <p v-if="left" class="text-2xl" data-test="rests">
    {{ t('bench-wait') }} <span class="font-semibold tabular-nums">{{ clock }}</span>
  </p>
  <template v-if="step.of_group">
    <p v-if="step.resisting.length && !resisting.length" class="font-semibold text-wrong">
      {{ t('bench-did-not-run-down-clean-and', { resisting: step.resisting.join(', ') }) }}
    </p>
    <p class="text-xl" data-test="resisting">
      <template v-if="resisting.length"
        ><span class="font-semibold text-wrong">▲ {{ resisting.join(', ') }}</span>
        {{ t('bench-not-run-down') }}</template
      >
      <span v-else class="text-dim">{{ t('bench-tap-a-fastener-that-does-not') }}</span>
    </p>
    <label v-if="suiting.length > 1" class="flex items-center gap-2">
      <span class="label-text shrink-0">{{ t('bench-tool') }}</span>
      <select v-model="chosen" class="line-field min-w-0 grow" name="driver">
        <option v-for="option in suiting" :key="option.id" :value="option.id">
          {{ option.name }}{{ option.fault ? t('bench-does-not-fit') : '' }}
        </option>
      </select>
    </label>
    <p v-if="tool?.fault" class="font-semibold text-wrong">
      {{ t('bench-recorded-as-a-deviation', { fault: sentence(tool.fault) }) }}
    </p>
    <p v-else-if="tool && tool.nature !== 'hand-and-eye'" class="font-semibold">
      {{ t('bench-no-further-than-snug-a-driver', { most_nm: figure(step.most_nm ?? 0, 'torque') }) }}
    </p>
  </template>
  <button v-focus class="key key-main min-h-20 text-3xl" :disabled="busy" data-test="acted" @click="done">
    {{ key }}
  </button>
</template>
