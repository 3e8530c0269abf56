<script setup lang="ts">
// Any table of a plan in a dialog: opened as it is written, or begun; kept as a whole, with what is wrong at its field.
import { computed, nextTick, provide, reactive, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../../api/client'
import DialogForm from '../../ui/DialogForm.vue'
import ErrorText from '../../ui/ErrorText.vue'
import LoadingText from '../../ui/LoadingText.vue'
import SheetDialog from '../../ui/SheetDialog.vue'
import FormatForm from './FormatForm.vue'
import { formContext, said, usePlanFormat, type Fields, type FormatTable } from './format'
import { errorsAt } from '../faults'
import type { Change } from '../useChange'
import type { Edit } from '../useDraft'
import { t } from '../texts'

const props = defineProps<{
  draft: string
  page: Schemas['PlanPage']
  /** The kind of table: `joint.stage`. */
  table: string
  /** Where it stands; left out where it is begun. */
  path?: string
  title: string
  /** What is wrong with the plan already: what is in this table is shown at its fields. */
  faults?: Schemas['Fault'][]
  /** What a new one begins with. */
  begun?: Fields
  /** The list that a new one goes into; what adds it otherwise is `add`. */
  list?: string
  add?: (fields: Fields) => Edit[]
  /** Where it stands after that, where it does not stay where it was added. */
  placed?: string
  /** How it goes with all that is there for it alone; it can be removed where this is said. */
  removal?: 'take-out' | 'remove'
  change: Change
}>()
const emit = defineEmits<{ close: [] }>()
const { tables, error: unread } = usePlanFormat()
const format = computed<FormatTable | undefined>(() => tables.value.get(props.table))
const fields = ref<Fields | undefined>(props.path ? undefined : { ...props.begun })
/** What it said when it was opened: what others change meanwhile is not put over. */
let was: Fields | undefined
const message = ref('')
const others = ref<string[]>([])
/** Whether it was refused for what is wrong inside of it: then it can be kept as it is. */
const faulty = ref(false)
const context = reactive({
  get page() {
    return props.page
  },
  get path() {
    return props.path ?? props.list ?? ''
  },
  get fields() {
    return fields.value ?? {}
  },
  get tables() {
    return tables.value
  },
  errors: {} as Record<string, string>,
})
provide(formContext, context)

async function load() {
  if (!props.path) return
  try {
    const answer = await api.GET('/api/drafts/{draft}/table', {
      params: { path: { draft: props.draft }, query: { path: props.path } },
    })
    was = take(answer) as Fields
    fields.value = { ...was }
    context.errors = errorsAt(props.faults, props.path)
  } catch (caught) {
    message.value = caught instanceof Refused ? caught.message : t('plans-no-connection')
  }
}
watch(() => props.path, load, { immediate: true })

function edits(): Edit[] {
  const now = said(fields.value!)
  if (props.path) return [{ type: 'put', path: props.path, fields: now, was }]
  return props.add ? props.add(now) : [{ type: 'append', list: props.list!, fields: now }]
}
async function save(sound = true) {
  if (!fields.value) return
  context.errors = {}
  others.value = []
  faulty.value = false
  try {
    message.value = await props.change(edits(), sound ? (props.path ?? props.placed ?? '+') : undefined)
    if (!message.value) emit('close')
  } catch (caught) {
    if (!(caught instanceof Refused)) throw caught
    context.errors = caught.byField()
    // What the form says can be kept with its errors; what could not be changed at all cannot.
    faulty.value = !(props.path && props.path in context.errors)
    message.value = t('plans-nothing-was-changed-see-the-fields')
    // What is about the table itself has no field: it is said below.
    await nextTick()
    others.value = Object.entries(context.errors).flatMap(([field, text]) =>
      document.querySelector(`[data-path="${CSS.escape(field)}"]`) ? [] : [text],
    )
    document.querySelector<HTMLElement>('[aria-invalid=true]')?.focus()
  }
}
async function remove() {
  message.value = await props.change([{ type: props.removal!, path: props.path! }])
  if (!message.value) emit('close')
}
</script>

<template>
  <SheetDialog open wide :title="title" @close="emit('close')">
    <DialogForm :message="message" @submit="save()">
      <slot name="before" :fields="fields" />
      <FormatForm v-if="fields && format" v-model="fields" :table="format" path="" />
      <LoadingText v-else-if="!message && !unread" />
      <ErrorText :text="unread?.message" />
      <ErrorText v-for="other in others" :key="other" :text="other" />
      <template #actions>
        <button v-if="removal && path" type="button" class="key mr-auto" data-test="remove-table" @click="remove">
          {{ t('common-remove') }}
        </button>
        <slot name="actions" />
        <button v-if="faulty" type="button" class="key" data-test="save-anyway" @click="save(false)">
          {{ t('plans-save-with-its-errors') }}
        </button>
        <button type="button" class="key" @click="emit('close')">{{ t('common-cancel') }}</button>
        <button type="submit" class="key key-main" data-test="save-table" :disabled="!fields || !format">
          {{ path ? t('common-save') : title }}
        </button>
      </template>
    </DialogForm>
  </SheetDialog>
</template>
