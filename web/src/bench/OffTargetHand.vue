<script setup lang="ts">
// A pull that went wrong, large, until it is acknowledged: the next fastener comes after that.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { vFocus } from '../ui/focus'
import { digits, say, sentence, unitOf } from '../ui/units'
import { useHand } from './hand'
import { t } from './texts'

const props = defineProps<{ pull: Schemas['PullView']; step: Schemas['BenchStep'] }>()
const emit = defineEmits<{ acknowledge: []; void: [] }>()
const { bench } = useHand()
/** What has to be done about it. */
const issue = computed(() =>
  bench.value.issues.find((issue) => issue.seq === props.pull.seq || issue.fastener === props.pull.fastener),
)
const next = computed(() => ('fastener' in props.step ? props.step.fastener : null))
</script>

<template>
  <div
    role="alert"
    class="flex flex-col gap-4 border-4 border-wrong p-4"
    data-test="off-target"
    :data-in-hand="`off target ${pull.seq}`"
  >
    <div class="flex flex-wrap items-end justify-between gap-x-4">
      <div>
        <p class="text-xl text-dim">{{ pull.stage_name }}</p>
        <p class="far">{{ pull.fastener }}</p>
      </div>
      <p class="font-semibold whitespace-nowrap text-wrong">
        <span class="far">{{ digits(pull.value, pull.dimension) }}</span>
        <span class="text-4xl">{{ unitOf(pull.dimension) }}</span>
      </p>
    </div>
    <p class="text-4xl font-semibold text-wrong"><span aria-hidden="true">▲ </span>{{ sentence(pull.says) }}</p>
    <p v-for="remark in pull.remarks.map(sentence)" :key="remark" class="text-xl">{{ remark }}.</p>
    <template v-if="issue">
      <p class="text-xl">{{ say(issue.text) }}.</p>
      <p class="text-2xl">{{ say(issue.to_do) }}.</p>
    </template>
    <button v-focus class="key key-main min-h-16 text-2xl" data-test="acknowledge" @click="emit('acknowledge')">
      {{ next && next !== pull.fastener ? t('bench-understood-on-to', { next }) : t('bench-understood') }}
    </button>
    <button class="key min-h-14" data-test="void-off-target" @click="emit('void')">
      {{ t('bench-void-typed-wrong') }}
    </button>
    <p class="text-dim">{{ t('bench-other-ways-to-fix-it-are') }}</p>
  </div>
</template>
