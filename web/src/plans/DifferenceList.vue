<script setup lang="ts">
// How two versions differ, by meaning: in whole, or of one joint.
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { digits, figure, say } from '../ui/units'
import { t } from './texts'

const props = defineProps<{ differences: Schemas['Difference'][] }>()
const joints = computed(() => [...new Set(props.differences.flatMap((of) => of.joint ?? []))])
const joint = ref('')
const shown = computed(() =>
  joints.value.includes(joint.value) ? props.differences.filter((of) => of.joint === joint.value) : props.differences,
)
</script>

<template>
  <p v-if="!differences.length" data-test="no-difference">{{ t('plans-no-differences') }}</p>
  <label v-if="joints.length > 1" class="label-text mb-2 block"
    >{{ t('plans-of') }}
    <select v-model="joint" class="line-field" name="differences-of">
      <option value="">{{ t('plans-the-whole-plan') }}</option>
      <option v-for="of in joints" :key="of" :value="of">{{ of }}</option>
    </select></label
  >
  <ul v-if="differences.length" class="grid gap-1" data-test="differences">
    <li v-for="(one, at) in shown" :key="at" class="border-b border-rule pb-1">
      <span class="font-semibold">{{ one.what }}</span>:
      <template v-if="one.was === null || one.was === undefined">{{ say(one.now) }}</template>
      <template v-else-if="one.now === null || one.now === undefined">{{ t('plans-removed') }}</template>
      <template v-else
        ><s class="text-dim">{{ say(one.was) }}</s> <span aria-hidden="true">→</span
        ><span class="sr-only">{{ ' ' }}{{ t('plans-becomes') }}{{ ' ' }}</span> {{ say(one.now) }}</template
      >
      <span v-if="one.load_kn" class="text-dim">{{
        t('plans-clamp-load', { before: digits(one.load_kn[0]!, 'force'), after: figure(one.load_kn[1]!, 'force') })
      }}</span>
    </li>
  </ul>
</template>
