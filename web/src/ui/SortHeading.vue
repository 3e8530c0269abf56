<script setup lang="ts">
// The heading of a column that a list can be sorted by: a click sorts, another click turns the order round.
const props = defineProps<{ label: string; by: string }>()
const sort = defineModel<{ by: string; down: boolean }>({ required: true })
const isOn = () => sort.value.by === props.by
const choose = () => (sort.value = { by: props.by, down: isOn() && !sort.value.down })
</script>

<template>
  <th
    scope="col"
    class="pr-3 text-left font-normal"
    :aria-sort="isOn() ? (sort.down ? 'descending' : 'ascending') : 'none'"
  >
    <button
      type="button"
      class="min-h-11 whitespace-nowrap underline-offset-4 hover:underline"
      :class="isOn() && 'font-semibold text-ink'"
      :data-test="`sort-${by}`"
      @click="choose"
    >
      {{ label }} <span aria-hidden="true">{{ isOn() ? (sort.down ? '↓' : '↑') : '' }}</span>
    </button>
  </th>
</template>
