<script setup lang="ts">
// A kind of fastener by what a person has in hand: its thread, the mark on its head or the maker's card, and where they
// have them three or four lengths. What is unknown yet is a question mark.
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import DialogForm from '../ui/DialogForm.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import { unitOf } from '../ui/units'
import { elasticFields, elasticForm, isUnchanged } from './elastic'
import ElasticFields from './ElasticFields.vue'
import KeepPiece from './KeepPiece.vue'
import { withUnit } from './written'
import { errorsAt } from './faults'
import { useChange, type Change } from './useChange'
import type { Edit } from './useDraft'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const props = defineProps<{
  fastener: Schemas['FastenerPage'] | 'new'
  /** Keys of the lubricants that the plan has already. */
  there: string[]
  draft: string
  faults?: Schemas['Fault'][]
  change: Change
}>()
const emit = defineEmits<{ close: []; all: [path: string, name: string] }>()
const { data: lubricants } = useQuery({
  queryKey: ['lubricants'],
  queryFn: async () => take(await api.GET('/api/lubricants')),
})
const known = computed(() => [
  ...(lubricants.value?.generic ?? []),
  ...(lubricants.value?.own.filter((of) => !of.retired) ?? []),
])
const was = props.fastener === 'new' ? undefined : props.fastener
const w = (key: string) => was?.written[key] ?? ''
/** A label that says where a template filled its field in, and nobody has confirmed it. */
const labelled = (key: string, label: string) =>
  Object.entries(was?.written ?? {}).some(([of, text]) => of.startsWith('assumed[') && text === key)
    ? t('plans-label-assumed', { label })
    : label
const CLASSES = [
  '4.6',
  '4.8',
  '5.6',
  '5.8',
  '6.8',
  '8.8',
  '9.8',
  '10.9',
  '12.9',
  'A2-70',
  'A2-80',
  'A4-70',
  'A4-80',
  'grade 2',
  'grade 5',
  'grade 8',
]
const form = reactive({
  name: w('name'),
  thread: w('thread'),
  strength: w('yield') ? 'card' : w('strength') || (was ? '?' : '10.9'),
  yield: w('yield'),
  tensile: w('tensile'),
  bearing_diameter: w('bearing_diameter'),
  thread_lubricant: w('thread_lubricant') || 'engine-oil',
  bearing_lubricant: w('bearing_lubricant') || 'engine-oil',
  use: w('to_yield') === 'true' ? 'yield' : w('single_use') === 'true' ? 'once' : '',
  source: w('source'),
  elongation_allowed: w('elongation_allowed'),
})
const elastic = ref(elasticForm(was?.written ?? {}))
const { message, errors, send } = useChange(props.change, () => emit('close'))
if (was) errors.value = errorsAt(props.faults, was.path)
/** Fields of the plan that have no place of their own here. */
const BOLT = /^bolt\.(resilience|segment\[\d+\]\.(length|diameter))$/
const PARTS = /^parts\.(resilience|outer|hole|bearing_od|pressure_limit|washer\.(outer|thickness))$/
const LAYER = /^parts\.layer\[\d+\]\.(thickness|material|modulus)$/
const OWN = ['thread', 'strength', 'yield', 'tensile', 'bearing_diameter', 'elongation_allowed']
const hasPlace = (field: string) => OWN.includes(field) || BOLT.test(field) || PARTS.test(field) || LAYER.test(field)
const others = computed(() =>
  Object.entries(errors.value).flatMap(([field, message]) => (hasPlace(field) ? [] : [`${field}: ${message}`])),
)

/** The fields as a plan has them. */
function fields(): [string, unknown][] {
  const strength: [string, unknown][] =
    form.strength === 'card'
      ? [
          ['yield', form.yield || '?'],
          ['tensile', form.tensile || '?'],
        ]
      : [['strength', form.strength]]
  return [
    ['name', form.name.trim()],
    ['thread', form.thread.trim()],
    ...strength,
    ...(form.bearing_diameter.trim()
      ? [['bearing_diameter', withUnit(form.bearing_diameter, 'length')] as [string, unknown]]
      : []),
    ['thread_lubricant', form.thread_lubricant],
    ['bearing_lubricant', form.bearing_lubricant],
    ...(form.use ? [['single_use', true] as [string, unknown]] : []),
    ...(form.use === 'yield' ? [['to_yield', true] as [string, unknown]] : []),
    ...(form.source.trim() ? [['source', form.source.trim()] as [string, unknown]] : []),
    ...(form.use === 'yield' && form.elongation_allowed.trim()
      ? [['elongation_allowed', withUnit(form.elongation_allowed, 'clearance')] as [string, unknown]]
      : []),
    ...(was && isUnchanged(elastic.value, was.written) ? [] : elasticFields(elastic.value)),
  ]
}
async function keep() {
  if (!form.name.trim() || !form.thread.trim()) return void (message.value = t('plans-enter-a-name-and-a-thread'))
  const edits: Edit[] = []
  let path: string
  if (was) {
    path = was.path
    const gone = [
      'strength',
      'yield',
      'tensile',
      'bearing_diameter',
      'single_use',
      'to_yield',
      'elongation_allowed',
      'source',
      'bolt',
      'parts',
    ].filter((of) => Object.keys(was.written).some((key) => key === of || key.startsWith(`${of}.`)))
    const given = new Map(fields())
    // Tables of their own are put in anew; single fields are changed where they stand.
    const kept = isUnchanged(elastic.value, was.written) ? ['bolt', 'parts'] : []
    for (const of of gone.filter((of) => !kept.includes(of)))
      if (!given.has(of) || of === 'bolt' || of === 'parts') edits.push({ type: 'remove', path: `${path}.${of}` })
    for (const [field, value] of given)
      if (typeof value === 'object' || w(field) !== String(value))
        edits.push({ type: 'set', path: `${path}.${field}`, value })
  } else {
    path = '+'
    edits.push({ type: 'append', list: 'fastener', fields: Object.fromEntries(fields()) })
  }
  // A lubricant of the shop goes into the plan with its figures: the plan holds all that it needs.
  const brought = [...new Set([form.thread_lubricant, form.bearing_lubricant])].flatMap((id) => {
    const own = lubricants.value?.own.find((of) => of.id === id)
    return own && !props.there.includes(id) ? [own] : []
  })
  const lubricant = (own: Schemas['ShopLubricant']): Edit => {
    const of = (face: 'thread' | 'bearing') => [own.low[face], own.typical[face], own.high[face]]
    const { id, name, source, film } = own
    return {
      type: 'append',
      list: 'lubricant',
      fields: { id, name, source, film, thread: of('thread'), bearing: of('bearing') },
    }
  }
  edits.unshift(...brought.map(lubricant))
  await send(edits, path)
}
</script>

<template>
  <SheetDialog
    open
    :title="was ? t('common-change-2', { was: was.name }) : t('plans-add-fastener')"
    @close="emit('close')"
  >
    <DialogForm :message="message" @submit="keep">
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField v-model="form.name" :label="t('common-name')" name="name" :placeholder="t('plans-main-cap-stud')" />
        <TextField
          v-model="form.thread"
          :label="labelled('thread', t('common-thread'))"
          name="thread"
          placeholder="M10x1.25, 7/16-14"
          :wrong="errors['thread']"
        />
        <label>
          <span class="label-text">{{ t('plans-strength-mark-on-the-head-or') }}</span>
          <select v-model="form.strength" class="field mt-1" name="strength">
            <option v-for="of in CLASSES" :key="of" :value="of">{{ of }}</option>
            <option value="card">{{ t('plans-makers-figures') }}</option>
            <option value="?">{{ t('plans-unknown-yet') }}</option>
          </select>
          <span
            v-if="errors['strength']"
            class="block font-semibold text-wrong"
            role="alert"
            data-test="wrong-strength"
            >{{ errors['strength'] }}</span
          >
        </label>
        <TextField
          v-model="form.bearing_diameter"
          :label="t('common-mean-bearing-diameter')"
          name="bearing_diameter"
          :placeholder="t('common-standard-head')"
          :wrong="errors['bearing_diameter']"
        />
        <template v-if="form.strength === 'card'">
          <TextField
            v-model="form.yield"
            :label="t('common-yield')"
            name="yield"
            :placeholder="t('plans-1100-mpa')"
            :wrong="errors['yield']"
          />
          <TextField
            v-model="form.tensile"
            :label="t('plans-tensile')"
            name="tensile"
            :placeholder="t('plans-1200-mpa')"
            :wrong="errors['tensile']"
          />
        </template>
        <label v-for="face in ['thread_lubricant', 'bearing_lubricant'] as const" :key="face">
          <span class="label-text">{{
            labelled(face, face === 'thread_lubricant' ? t('common-on-the-thread') : t('common-under-the-head-or-nut'))
          }}</span>
          <select v-model="form[face]" class="field mt-1" :name="face">
            <option v-for="of in known" :key="of.id" :value="of.id">{{ of.name }}</option>
          </select>
        </label>
        <label>
          <span class="label-text">{{ t('plans-use') }}</span>
          <select v-model="form.use" class="field mt-1" name="use">
            <option value="">{{ t('plans-reusable') }}</option>
            <option value="once">{{ t('plans-single-use') }}</option>
            <option value="yield">{{ t('plans-torque-to-yield-single-use') }}</option>
          </select>
        </label>
        <TextField
          v-if="form.use === 'yield'"
          v-model="form.elongation_allowed"
          :label="t('plans-permanent-stretch-allowed', { unit: unitOf('clearance') })"
          name="elongation_allowed"
          :placeholder="t('plans-makers-limit')"
          :wrong="errors['elongation_allowed']"
        />
        <TextField
          v-model="form.source"
          :label="t('common-source-of-the-figures')"
          name="source"
          :placeholder="t('plans-makers-card-page-3')"
        />
      </div>
      <ElasticFields
        v-model="elastic"
        :errors="errors"
        :heads="elastic.end === 'nut' ? t('plans-head-or-nut') : t('common-head')"
      />
      <p v-for="of in others" :key="of" role="alert" class="font-semibold text-wrong">{{ of }}</p>
      <template #actions>
        <KeepPiece v-if="was" class="mr-auto" :draft="draft" :path="was.path" :what="was.name" />
        <button
          v-if="was"
          type="button"
          class="quiet-key min-h-11"
          data-test="all-fields"
          @click="emit('all', was.path, was.name)"
        >
          {{ t('plans-all-fields') }}
        </button>
        <button type="button" class="key" @click="emit('close')">{{ t('common-cancel') }}</button>
        <button type="submit" class="key key-main" data-test="keep-fastener">{{ t('common-save') }}</button>
      </template>
    </DialogForm>
  </SheetDialog>
</template>
