<script setup lang="ts">
// How two versions differ, by meaning: in whole, or of one joint.
import type { Schemas } from '../api/client'

defineProps<{ differences: Schemas['Difference'][] }>()
const kn = (value: number) => value.toFixed(1)
</script>

<template>
  <p v-if="!differences.length" data-test="no-difference">They mean the same.</p>
  <ul v-else class="grid gap-1" data-test="differences">
    <li v-for="(one, at) in differences" :key="at" class="border-b border-rule pb-1">
      <span class="font-semibold">{{ one.what }}</span>:
      <template v-if="one.was === null || one.was === undefined">{{ one.now }}</template>
      <template v-else-if="one.now === null || one.now === undefined">is gone</template>
      <template v-else><s class="text-dim">{{ one.was }}</s> <span aria-hidden="true">→</span><span class="sr-only"> becomes </span> {{ one.now }}</template>
      <span v-if="one.load_kn" class="text-dim">; clamp load {{ kn(one.load_kn[0]!) }} → {{ kn(one.load_kn[1]!) }} kN</span>
    </li>
  </ul>
</template>
