<script setup lang="ts">
// The signature under the whole engine: what it still waits for is said by its page.
import { useHand } from './hand'
import { t } from './texts'

const { bench } = useHand()
</script>

<template>
  <p v-if="bench.operation.status === 'to-sign'" class="mt-4 headline">
    {{ t('bench-everything-is-done-and-signed') }}
  </p>
</template>
