<script setup lang="ts">
// Hardware, counted out or back.
import type { Schemas } from '../api/client'
import { dated } from '../ui/units'

defineProps<{ counts: Schemas['CountView'][] }>()
</script>

<template>
  <ul class="mt-2">
    <li v-for="line in counts" :key="line.id" class="grid grid-cols-[1fr_auto_auto] gap-x-4 py-0.5 break-inside-avoid" :data-test="`count-${line.id}`">
      <span>
        {{ line.name }}
        <span v-if="line.difference" class="block font-semibold">▲ {{ line.difference }}<template v-if="line.accepted">; accepted: {{ line.accepted }}</template></span>
      </span>
      <span>{{ line.count ?? 'open' }} of {{ line.expected }}{{ line.back ? ' back' : '' }}</span>
      <span class="text-dim">{{ line.by ? `${line.by}, ${dated(line.at)}` : '' }}</span>
    </li>
  </ul>
</template>
