<script setup lang="ts">
// A table of a plan as a form, made of the plan format: what has to be there and what is said already stands open, the
// rest is offered by name.
import { computed, ref, watch } from 'vue'
import FormatInput from './FormatInput.vue'
import { chosenOf, isAsked, isSaid, type Fields, type FormatField, type FormatTable } from './format'
import { t } from '../texts'

const props = defineProps<{
  table: FormatTable
  /** Where it stands inside of the table that the dialog is about: empty, or `group[0]`. */
  path: string
}>()
const fields = defineModel<Fields>({ required: true })
/** Which of several it is, such as the way of a stage; chosen before its figure is there. */
const chosen = ref(chosenOf(props.table, fields.value) ?? '')
watch(fields, (now) => (chosen.value = chosenOf(props.table, now) ?? chosen.value))
const opened = ref(new Set<string>())
const known = computed<Fields>(() => (chosen.value ? { [chosen.value]: true, ...fields.value } : fields.value))
const fieldOf = (key: string) => props.table.fields.find((field) => field.key === key)!

const asked = computed(() =>
  props.table.fields.filter(
    (field) => field.kind.type !== 'id' && (field.key === chosen.value || isAsked(props.table, field, known.value)),
  ),
)
const isOpen = (field: FormatField) =>
  field.usual || field.key === chosen.value || isSaid(fields.value[field.key]) || opened.value.has(field.key)
const open = computed(() => asked.value.filter(isOpen))
const offered = computed(() => asked.value.filter((field) => !isOpen(field)))

function set(key: string, value: unknown) {
  const next = { ...fields.value, [key]: value }
  if (!isSaid(value)) delete next[key]
  // What is asked for no longer is not said any more.
  const of = chosen.value ? { [chosen.value]: true, ...next } : next
  for (const said of Object.keys(next)) {
    const describes = props.table.fields.filter((field) => field.key === said)
    if (describes.length && said !== chosen.value && !describes.some((field) => isAsked(props.table, field, of)))
      delete next[said]
  }
  fields.value = next
}
function choose(key: string) {
  const before = chosen.value
  const figure = fields.value[before]
  const next = { ...fields.value }
  for (const other of props.table.one_of) delete next[other]
  chosen.value = key
  fields.value = next
  // The same figure done in another way stays.
  const same = before && JSON.stringify(fieldOf(before).kind) === JSON.stringify(fieldOf(key).kind)
  set(key, same ? figure : undefined)
}
function offer(field: FormatField) {
  opened.value.add(field.key)
  if (field.kind.type === 'flag') set(field.key, true)
  if (field.kind.type === 'table') set(field.key, {})
}
const inside = (key: string) => (props.path ? `${props.path}.${key}` : key)
</script>

<template>
  <div class="grid content-start gap-3 sm:grid-cols-2">
    <label v-if="table.one_of.length" class="sm:col-span-2">
      <span class="label-text">{{ t('plans-kind') }}</span>
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
