<script setup lang="ts">
// One field of a calculation, with its unit; several where it holds a list.
import { computed } from 'vue'
import { typedAll, unit, unitsFor, words, type Field, type Value, type Values } from './fields'
import { t } from './texts'

const props = defineProps<{ field: Field; path: string; fault?: { field: string; message: string } }>()
const value = defineModel<Value>({ required: true })
const emit = defineEmits<{ unit: [dimension: string, symbol: string] }>()
const kind = computed(() => props.field.kind)
const record = computed(() => (typeof kind.value === 'object' && 'record' in kind.value ? kind.value.record : null))
const records = computed(() => (typeof kind.value === 'object' && 'records' in kind.value ? kind.value.records : null))
const choice = computed(() => (typeof kind.value === 'object' && 'choice' in kind.value ? kind.value.choice : null))
const rows = computed(() => value.value as Values[])
const wrong = computed(() => props.fault?.field === props.path)
const set = (row: Values, name: string, to: Value) => (row[name] = to)
function add() {
  if (records.value) value.value = [...rows.value, typedAll(records.value, {})]
}
</script>

<template>
  <fieldset v-if="records" class="col-span-full">
    <legend class="label-text">{{ words(field.name) }}</legend>
    <div v-for="(row, at) in rows" :key="at" class="mt-1 flex flex-wrap items-end gap-3">
      <FieldInput
        v-for="one in records"
        :key="one.name"
        class="min-w-28 flex-1"
        :field="one"
        :path="`${path}[${at}].${one.name}`"
        :fault="fault"
        :model-value="row[one.name]"
        @update:model-value="set(row, one.name, $event)"
        @unit="(dimension, symbol) => emit('unit', dimension, symbol)"
      />
      <button
        type="button"
        class="quiet-key min-h-11"
        :disabled="rows.length < 2"
        :aria-label="t('calculate-remove-row', { at: at + 1 })"
        @click="value = rows.filter((_, other) => other !== at)"
      >
        {{ t('common-remove') }}
      </button>
    </div>
    <button type="button" class="quiet-key mt-1 min-h-11" @click="add">{{ t('common-add-row') }}</button>
  </fieldset>
  <fieldset v-else-if="record" class="grid grid-cols-2 gap-3">
    <legend class="label-text">{{ words(field.name) }}</legend>
    <FieldInput
      v-for="one in record"
      :key="one.name"
      :field="one"
      :path="`${path}.${one.name}`"
      :fault="fault"
      :model-value="(value as Values)[one.name]"
      @update:model-value="set(value as Values, one.name, $event)"
      @unit="(dimension, symbol) => emit('unit', dimension, symbol)"
    />
  </fieldset>
  <label v-else-if="kind === 'flag'" class="flex min-h-11 items-center gap-3">
    <input v-model="value" type="checkbox" class="size-6" :name="path" /> {{ words(field.name) }}
  </label>
  <label v-else class="block">
    <span class="label-text"
      >{{ words(field.name) }}<template v-if="field.optional">{{ t('calculate-if-known') }}</template></span
    >
    <span class="flex items-baseline gap-2">
      <select v-if="choice" v-model="value" class="line-field min-h-11 w-full" :name="path">
        <option v-for="word in choice" :key="word" :value="word">{{ words(word) }}</option>
      </select>
      <input
        v-else
        v-model="value"
        class="line-field min-h-11 w-full text-xl"
        :name="path"
        :inputmode="kind === 'text' ? 'text' : 'decimal'"
        autocomplete="off"
        :aria-invalid="wrong"
      />
      <select
        v-if="unitsFor(field.name).length"
        class="line-field min-h-11 text-dim"
        :value="unit(field.name)"
        :aria-label="t('calculate-unit-of', { field: words(field.name) })"
        :name="`${path} unit`"
        @change="emit('unit', unitsFor(field.name)[0]!.dimension, ($event.target as HTMLSelectElement).value)"
      >
        <option v-for="of in unitsFor(field.name)" :key="of.symbol">{{ of.symbol }}</option>
      </select>
      <span v-else-if="unit(field.name)" class="text-dim">{{ unit(field.name) }}</span>
    </span>
    <span v-if="wrong" class="text-wrong" role="alert">▲ {{ fault?.message }}</span>
  </label>
</template>
