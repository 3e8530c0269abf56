<script setup lang="ts">
// One field of a table of a plan, by what it holds.
import { computed, inject, ref, useId, watch } from 'vue'
import ErrorText from '../../ui/ErrorText.vue'
import FormatForm from './FormatForm.vue'
import FormatList from './FormatList.vue'
import OrderField from './OrderField.vue'
import ReferencesField from './ReferencesField.vue'
import WindowsField from './WindowsField.vue'
import { formContext, isLarge, labelOf, textOf, valueOf, type Fields, type FormatField } from './format'
import { referencesOf } from './references'
import { t } from '../texts'

const props = defineProps<{ field: FormatField; path: string; fields: Fields }>()
const value = defineModel<unknown>({ required: true })
const context = inject(formContext)!
const kind = computed(() => props.field.kind)
const id = useId()
const wrong = computed(() => context.errors[props.path])
const inner = computed(() =>
  kind.value.type === 'table' || kind.value.type === 'tables' ? context.tables.get(kind.value.table)! : undefined,
)
/** Whether a template filled it in, and nobody has confirmed it. */
const isAssumed = computed(() => (props.fields.assumed as string[] | undefined)?.includes(props.field.key))
const typed = ref(textOf(props.field, value.value))
/** What it said when it was shown is said as it was, however it is shown. */
let shown = { text: typed.value, value: value.value }
/** What was said by typing: anything else comes from elsewhere, and is shown. */
let said: unknown = value.value
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)
watch(value, (now) => {
  if (same(now, said)) return
  typed.value = textOf(props.field, now)
  shown = { text: typed.value, value: now }
  said = now
})
function type(text: string) {
  typed.value = text
  said = text === shown.text ? shown.value : valueOf(props.field, text)
  value.value = said
}
/** Sizes may be those of something that is measured. */
const sizes = computed(() => (kind.value.type === 'size' ? referencesOf(context, 'site', props.fields) : []))
const choices = computed(() => {
  const of = kind.value
  if (of.type === 'choice') return of.choices
  if (of.type !== 'reference') return []
  const known = referencesOf(context, of.list, props.fields).filter((row) => !row.member)
  const here = String(value.value ?? '')
  const named = known.map((row) => ({ value: row.id, label: row.name }))
  return here && !named.some((row) => row.value === here) ? [{ value: here, label: here }, ...named] : named
})
const text = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <fieldset v-if="inner && kind.type === 'table'" class="min-w-0 border-t border-rule pt-2 sm:col-span-2">
    <legend class="label-text pr-3">{{ field.label }}</legend>
    <FormatForm
      :table="inner"
      :path="path"
      :model-value="(value ?? {}) as Fields"
      @update:model-value="value = $event"
    />
    <button type="button" class="quiet-key min-h-11" @click="value = undefined">
      {{ t('plans-remove-2', { written: field.label }) }}
    </button>
    <ErrorText :text="wrong" :data-path="path" />
  </fieldset>
  <FormatList
    v-else-if="inner"
    class="sm:col-span-2"
    :field="field"
    :table="inner"
    :path="path"
    :model-value="(value ?? []) as Fields[]"
    @update:model-value="value = $event"
  />
  <label v-else-if="kind.type === 'flag'" class="flex min-h-11 items-center gap-3 self-end">
    <input
      type="checkbox"
      class="size-6 shrink-0"
      :name="path"
      :checked="value === true"
      @change="value = ($event.target as HTMLInputElement).checked || undefined"
    />
    <span>{{ field.label }}</span>
    <ErrorText :text="wrong" :data-path="path" />
  </label>
  <div v-else :class="isLarge(field) && 'sm:col-span-2'">
    <template v-if="kind.type === 'references' || kind.type === 'stages'">
      <ReferencesField
        :label="field.label"
        :hint="field.hint"
        :known="referencesOf(context, kind.type === 'stages' ? 'stage' : kind.list, fields)"
        :path="path"
        :model-value="value"
        @update:model-value="value = $event"
      />
    </template>
    <OrderField
      v-else-if="kind.type === 'order'"
      :label="field.label"
      :group="fields"
      :model-value="(value ?? []) as string[]"
      @update:model-value="value = $event"
    />
    <WindowsField
      v-else-if="kind.type === 'windows'"
      :label="field.label"
      :hint="field.hint"
      :path="path"
      :fields="fields"
      :model-value="value"
      @update:model-value="value = $event"
    />
    <template v-else>
      <label :for="id" class="label-text">{{
        isAssumed ? t('plans-label-assumed', { label: labelOf(field) }) : labelOf(field)
      }}</label>
      <select
        v-if="kind.type === 'choice' || kind.type === 'reference'"
        :id="id"
        class="field mt-1"
        :name="path"
        :value="value ?? ''"
        :aria-invalid="!!wrong"
        @change="value = text($event) || undefined"
      >
        <option v-if="!field.needed || !value" value="">
          {{ field.needed ? t('plans-choose') : t('plans-empty') }}
        </option>
        <option v-for="of in choices" :key="of.value" :value="of.value">{{ of.label }}</option>
      </select>
      <textarea
        v-else-if="['words', 'texts', 'places'].includes(kind.type)"
        :id="id"
        class="field mt-1"
        rows="3"
        :name="path"
        :value="typed"
        :aria-invalid="!!wrong"
        @input="type(text($event))"
      />
      <input
        v-else
        :id="id"
        class="field mt-1"
        autocomplete="off"
        :name="path"
        :value="typed"
        :placeholder="field.hint"
        :aria-invalid="!!wrong"
        :list="sizes.length ? `${id}-sizes` : undefined"
        @input="type(text($event))"
      />
      <datalist v-if="sizes.length" :id="`${id}-sizes`">
        <option v-for="of in sizes.filter((row) => !row.member)" :key="of.id" :value="of.id">{{ of.name }}</option>
      </datalist>
      <p v-if="field.hint && (isLarge(field) || kind.type === 'choice' || kind.type === 'reference')" class="text-dim">
        {{ field.hint }}
      </p>
    </template>
    <ErrorText :text="wrong" :data-path="path" />
  </div>
</template>
