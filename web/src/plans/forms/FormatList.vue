<script setup lang="ts">
// A list of tables of a plan: small ones as rows, larger ones to be opened; added, moved and removed.
import { computed, inject, ref, watch } from 'vue'
import ErrorText from '../../ui/ErrorText.vue'
import ScrollBox from '../../ui/ScrollBox.vue'
import FormatForm from './FormatForm.vue'
import {
  chosenOf,
  formContext,
  isLarge,
  labelOf,
  textOf,
  valueOf,
  type Fields,
  type FormatField,
  type FormatTable,
} from './format'
import { referencesOf } from './references'
import { t } from '../texts'

const props = defineProps<{ field: FormatField; table: FormatTable; path: string }>()
const all = defineModel<Fields[]>({ required: true })
const context = inject(formContext)!
/** Each table keeps a key of its own while others are added, moved and removed: what is typed in it goes with it. */
let next = 0
const keys = ref(all.value.map(() => next++))
watch(
  () => all.value.length,
  (count) => {
    while (keys.value.length < count) keys.value.push(next++)
    keys.value.length = count
  },
)
const opened = ref<number>()
const columns = computed(() => props.table.fields.filter((field) => field.kind.type !== 'id'))
/** A table of few plain fields is a row. */
const inRows = computed(
  () =>
    columns.value.length <= 5 &&
    !columns.value.some((field) => isLarge(field) || field.with.length || field.of || field.kind.type === 'flag'),
)
const at = (index: number) => `${props.path}[${index}]`
const hasError = (index: number) => Object.keys(context.errors).some((path) => path.startsWith(at(index)))
const isOpen = (index: number) => opened.value === keys.value[index] || hasError(index)

/** What a table is called in the list. */
function title(of: Fields, index: number): string {
  const name = ['name', 'text', 'grade', 'ring', 'kind'].map((key) => of[key]).find((value) => value)
  const way = chosenOf(props.table, of)
  const field = way && props.table.fields.find((field) => field.key === way)
  const says = field ? textOf(field, of[way]) : ''
  return [String(name ?? `${props.table.name} ${index + 1}`), says].filter(Boolean).join(': ')
}
function put(index: number, fields: Fields) {
  all.value = all.value.map((of, at) => (at === index ? fields : of))
}
function cell(index: number, field: FormatField, text: string) {
  const before = all.value[index]!
  const value = text === textOf(field, before[field.key]) ? before[field.key] : valueOf(field, text)
  const next = { ...before, [field.key]: value }
  if (value === undefined) delete next[field.key]
  put(index, next)
}
function add() {
  keys.value.push(next)
  opened.value = next++
  all.value = [...all.value, {}]
}
function remove(index: number) {
  keys.value.splice(index, 1)
  all.value = all.value.filter((_, at) => at !== index)
}
function move(index: number, by: number) {
  const moved = <T,>(of: T[]) => of.toSpliced(index, 1).toSpliced(index + by, 0, of[index]!)
  keys.value = moved(keys.value)
  all.value = moved(all.value)
}
const options = (field: FormatField, of: Fields) =>
  field.kind.type === 'choice'
    ? field.kind.choices
    : field.kind.type === 'reference'
      ? referencesOf(context, field.kind.list, of)
          .filter((row) => !row.member)
          .map((row) => ({ value: row.id, label: row.name }))
      : undefined
const text = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <fieldset class="min-w-0 border-t border-rule pt-2" :data-test="`list-${path}`">
    <legend class="label-text pr-3">{{ field.label }}</legend>
    <ScrollBox v-if="inRows && all.length" :label="field.label" class="max-h-72">
      <table class="w-full border-collapse text-left">
        <thead>
          <tr class="label-text">
            <th v-for="column in columns" :key="column.key" class="pr-3 font-normal">{{ labelOf(column) }}</th>
            <td></td>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(of, index) in all" :key="keys[index]" class="align-baseline">
            <td v-for="column in columns" :key="column.key" class="pr-3">
              <select
                v-if="options(column, of)"
                class="line-field min-h-11 w-full min-w-24"
                :name="`${at(index)}.${column.key}`"
                :aria-label="`${column.label} ${index + 1}`"
                :value="of[column.key] ?? ''"
                @change="cell(index, column, text($event))"
              >
                <option value="">{{ column.needed ? t('plans-choose') : t('plans-empty') }}</option>
                <option v-for="one in options(column, of)" :key="one.value" :value="one.value">{{ one.label }}</option>
              </select>
              <input
                v-else
                class="line-field min-h-11 w-full min-w-24"
                autocomplete="off"
                :name="`${at(index)}.${column.key}`"
                :aria-label="`${column.label} ${index + 1}`"
                :value="textOf(column, of[column.key])"
                @change="cell(index, column, text($event))"
              />
              <ErrorText
                :text="context.errors[`${at(index)}.${column.key}`]"
                :data-path="`${at(index)}.${column.key}`"
              />
            </td>
            <td class="text-right">
              <button
                type="button"
                class="quiet-key min-h-11"
                :aria-label="t('plans-remove-2', { written: title(of, index) })"
                @click="remove(index)"
              >
                {{ t('common-remove') }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </ScrollBox>
    <ol v-else-if="all.length" class="grid">
      <li v-for="(of, index) in all" :key="keys[index]" class="border-b border-rule">
        <div class="flex flex-wrap items-center gap-x-4">
          <button
            type="button"
            class="min-h-11 grow text-left font-semibold underline underline-offset-4"
            :aria-expanded="isOpen(index)"
            :data-test="`open-${at(index)}`"
            @click="opened = opened === keys[index] ? undefined : keys[index]"
          >
            {{ title(of, index) }}
          </button>
          <button
            type="button"
            class="quiet-key min-h-11"
            :disabled="!index"
            :aria-label="t('plans-move-up', { name: title(of, index) })"
            @click="move(index, -1)"
          >
            ↑
          </button>
          <button
            type="button"
            class="quiet-key min-h-11"
            :disabled="index === all.length - 1"
            :aria-label="t('plans-move-down', { name: title(of, index) })"
            @click="move(index, 1)"
          >
            ↓
          </button>
          <button
            type="button"
            class="quiet-key min-h-11"
            :aria-label="t('plans-remove-2', { written: title(of, index) })"
            @click="remove(index)"
          >
            {{ t('common-remove') }}
          </button>
        </div>
        <div v-if="isOpen(index)" class="border-l-2 border-layout py-2 pl-4">
          <FormatForm :table="table" :path="at(index)" :model-value="of" @update:model-value="put(index, $event)" />
        </div>
        <ErrorText :text="context.errors[at(index)]" :data-path="at(index)" />
      </li>
    </ol>
    <ErrorText :text="context.errors[path]" :data-path="path" />
    <button type="button" class="quiet-key min-h-11" :data-test="`add-${path}`" @click="add">
      {{ t('plans-add-one', { name: table.name.toLowerCase() }) }}
    </button>
  </fieldset>
</template>
