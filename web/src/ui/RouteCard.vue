<script setup lang="ts" generic="Row extends { id: string; place: number; earliest: number }">
// Work in its order, as on the route of a job card: numbered places one below the other; what can be done in parallel
// stands side by side in one of them.
import { computed } from 'vue'
import { t } from './texts'

const props = defineProps<{ rows: Row[] }>()
const places = computed(() =>
  [...Map.groupBy(props.rows, (row) => row.place)].map(([place, rows]) => ({ place, rows })),
)
</script>

<template>
  <ol :aria-label="t('common-build-sequence')" class="border-b border-rule">
    <li v-for="{ place, rows: side } in places" :key="place" class="route-place" :data-place="place">
      <span class="pt-2.5 text-right text-lg text-dim" aria-hidden="true">{{ place }}</span>
      <ul v-if="side.length > 1" class="route-parallel" :aria-label="t('ui-can-be-done-in-parallel')">
        <li v-for="row in side" :key="row.id" class="route-row"><slot :row="row" /></li>
      </ul>
      <div v-else class="route-row"><slot :row="side[0]!" /></div>
    </li>
  </ol>
</template>
