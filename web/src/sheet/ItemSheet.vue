<script setup lang="ts">
// Items that were confirmed, by whom and when.
import type { Schemas } from '../api/client'
import { dated } from '../ui/units'

defineProps<{ items: Schemas['ItemView'][] }>()
</script>

<template>
  <ul class="mt-2">
    <li v-for="item in items" :key="item.id" class="grid grid-cols-[1.5rem_1fr_auto] gap-x-2 py-0.5 break-inside-avoid">
      <span aria-hidden="true">{{ item.seq ? '✓' : '–' }}</span>
      <span>{{ item.text }}</span>
      <span class="text-dim">{{ item.seq ? `${item.by?.name}, ${dated(item.at)}` : 'open' }}</span>
    </li>
  </ul>
</template>
