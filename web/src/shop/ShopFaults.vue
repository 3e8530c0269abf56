<script setup lang="ts">
// What is wrong with the server of the shop, for its leads: before somebody loses work by it.
import { useShopFaults } from '../api/queries'

const { data } = useShopFaults()
</script>

<template>
  <ul v-if="data?.faults.length" class="mt-4 border-4 border-wrong px-4 py-2" role="alert" data-test="shop-faults">
    <li v-for="fault in data.faults" :key="fault" class="py-1 font-semibold text-wrong">▲ {{ fault }}.</li>
  </ul>
</template>
