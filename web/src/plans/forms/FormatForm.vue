<script setup lang="ts">
// A table of a plan as a form, made of the plan format: what has to be there and what is said already stands open, the
// rest is offered by name.
import { computed, inject, ref, watch } from 'vue'
import FormatInput from './FormatInput.vue'
import { chosenOf, formContext, isAsked, isSaid, type Fields, type FormatField, type FormatTable } from './format'
import { t } from '../texts'

const props = defineProps<{
  table: FormatTable
  /** Where it stands inside of the table that the dialog is about: empty, or `group[0]`. */
  path: string
}>()
const fields = defineModel<Fields>({ required: true })
const context = inject(formContext)!
const inside = (key: string) => (props.path ? `${props.path}.${key}` : key)
/** Which of several it is, such as the way of a stage; chosen before its figure is there. */
const chosen = ref(chosenOf(props.table, fields.value) ?? '')
watch(fields, (now) => (chosen.value = chosenOf(props.table, now) ?? chosen.value))
const opened = ref(new Set<string>())
const known = computed<Fields>(() => (chosen.value ? { [chosen.value]: true, ...fields.value } : fields.value))
const fieldOf = (key: string) => props.table.fields.find((field) => field.key === key)!

/** A field that is asked for in several cases comes as the one that is; what is said is shown in any case. */
const asked = computed(() => {
  const { fields: all, one_of } = props.table
  return all.filter((field) => {
    if (
      ['id', 'assumed', 'file'].includes(field.kind.type) ||
      (one_of.includes(field.key) && field.key !== chosen.value)
    )
      return false
    const others = all.filter((of) => of.key === field.key)
    const said = isSaid(fields.value[field.key]) && !others.some((of) => isAsked(of, known.value))
    return isAsked(field, known.value) || (said && others[0] === field)
  })
})
/** What is wrong is shown, wherever it is. */
const isWrong = (path: string) =>
  Object.keys(context.errors).some((of) => of === path || of.startsWith(`${path}.`) || of.startsWith(`${path}[`))
const isOpen = ({ key, usual }: FormatField) =>
  usual || key === chosen.value || isSaid(fields.value[key]) || opened.value.has(key) || isWrong(inside(key))
const open = computed(() => asked.value.filter(isOpen))
const offered = computed(() => asked.value.filter((field) => !isOpen(field)))

/** Without what was asked for until now and is not any more, done in a way. */
function pruned(next: Fields, way: string): Fields {
  const now = way ? { [way]: true, ...next } : next
  const asks = (key: string, of: Fields) => props.table.fields.some((field) => field.key === key && isAsked(field, of))
  const stays = (key: string) => key === way || !asks(key, known.value) || asks(key, now)
  return Object.fromEntries(Object.entries(next).filter(([key]) => stays(key)))
}
function set(key: string, value: unknown) {
  const next = { ...fields.value, [key]: value }
  if (!isSaid(value)) delete next[key]
  fields.value = pruned(next, chosen.value)
}
function choose(way: string) {
  const before = chosen.value
  const next = { ...fields.value }
  for (const other of props.table.one_of) delete next[other]
  // The same figure done in another way stays.
  const kindOf = (key: string) => JSON.stringify(fieldOf(key).kind)
  if (before && kindOf(before) === kindOf(way)) next[way] = fields.value[before]
  fields.value = pruned(next, way)
  chosen.value = way
}
function offer(field: FormatField) {
  opened.value.add(field.key)
  if (field.kind.type === 'flag') set(field.key, true)
  if (field.kind.type === 'table') set(field.key, {})
}
</script>

<template>
  <div class="grid content-start gap-3 sm:grid-cols-2 [&>*]:min-w-0">
    <label v-if="table.one_of.length" class="sm:col-span-2">
      <span class="label-text">{{ t('common-kind') }}</span>
      <select
        class="field mt-1"
        :name="inside('one-of')"
        :value="chosen"
        @change="choose(($event.target as HTMLSelectElement).value)"
      >
        <option v-if="!chosen" value="">{{ t('plans-choose') }}</option>
        <option v-for="key in table.one_of" :key="key" :value="key">{{ fieldOf(key).label }}</option>
      </select>
    </label>
    <FormatInput
      v-for="field in open"
      :key="`${field.key} ${field.with.join()} ${field.of?.values.join()}`"
      :field="field"
      :path="inside(field.key)"
      :fields="fields"
      :model-value="fields[field.key]"
      @update:model-value="set(field.key, $event)"
    />
    <p v-if="offered.length" class="flex flex-wrap gap-x-4 sm:col-span-2">
      <button
        v-for="field in offered"
        :key="field.key"
        type="button"
        class="quiet-key min-h-11"
        :data-test="`offer-${inside(field.key)}`"
        @click="offer(field)"
      >
        {{ t('plans-offer', { label: field.label }) }}
      </button>
    </p>
  </div>
</template>
