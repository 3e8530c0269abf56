<script setup lang="ts">
// A kind of fastener by what a person has in hand: its thread, the mark on its head or the maker's card, and where they
// have them three or four lengths. What is not known yet is a question mark.
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { lengthUnit } from '../ui/preferences'
import SheetDialog from '../ui/SheetDialog.vue'
import BoltPicture from './BoltPicture.vue'
import KeepPiece from './KeepPiece.vue'
import { freeKey } from './written'
import type { Edit } from './useDraft'

const props = defineProps<{ fastener: Schemas['FastenerPage'] | 'new'; taken: string[]; draft: string; change: (edits: Edit[], sound?: string) => Promise<string> }>()
const emit = defineEmits<{ close: [] }>()
const { data: lubricants } = useQuery({ queryKey: ['lubricants'], queryFn: async () => take(await api.GET('/api/lubricants')) })
const known = computed(() => [...(lubricants.value?.generic ?? []), ...(lubricants.value?.own.filter((of) => !of.retired) ?? [])])
const was = props.fastener === 'new' ? undefined : props.fastener
const w = (key: string) => was?.written[key] ?? ''
const CLASSES = ['4.6', '4.8', '5.6', '5.8', '6.8', '8.8', '9.8', '10.9', '12.9', 'A2-70', 'A2-80', 'A4-70', 'A4-80', 'grade 2', 'grade 5', 'grade 8']
const materials = [{ name: 'steel', mpa: '205000 MPa' }, { name: 'grey iron', mpa: '110000 MPa' }, { name: 'spheroidal iron', mpa: '170000 MPa' }, { name: 'aluminium', mpa: '70000 MPa' }]
/** Measured resiliences and layers are written in the text of the plan; this form leaves them as they are. */
const writtenInText = Object.keys(was?.written ?? {}).some((key) => /^(bolt\.(resilience|end_material|modulus)|parts\.(resilience|layer|material))/.test(key))
const segments = was ? Object.keys(was.written).filter((key) => /^bolt\.segment\[\d+\]\.length$/.test(key)).map((_, at) => ({ length: w(`bolt.segment[${at}].length`), diameter: w(`bolt.segment[${at}].diameter`) })) : []
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
  elastic: was && !writtenInText ? !!w('bolt.head') : false,
  head: w('bolt.head') || 'hex',
  end: w('bolt.end') || 'tapped',
  segments: segments.length ? segments : [{ length: '', diameter: '' }, { length: '', diameter: 'thread' }],
  bearing_od: w('parts.bearing_od'),
  hole: w('parts.hole'),
  clamp_length: w('parts.clamp_length'),
  outer: w('parts.outer'),
  modulus: w('parts.modulus') || '205000 MPa',
})
const error = ref('')
/** What is wrong by field, as the plan names it: `thread`, `parts.hole`. What was entered stays. */
const errors = ref<Record<string, string>>({})
/** Fields of the plan whose words here are others. */
const labels: Record<string, string> = { 'bolt.segment': 'Lengths', 'parts.modulus': 'What is clamped is of' }
const shownAt = ['thread', 'strength', 'yield', 'tensile', 'bearing_diameter', 'parts.clamp_length', 'parts.outer', 'parts.bearing_od', 'parts.hole']
const segmentError = (at: number, of: 'length' | 'diameter') => errors.value[`bolt.segment[${at}].${of}`]
const others = computed(() =>
  Object.entries(errors.value)
    .filter(([field]) => !shownAt.includes(field) && !field.startsWith('bolt.segment['))
    .map(([field, message]) => `${labels[field] ?? field}: ${message}`),
)
/** A bare number is of the unit that lengths are shown in. */
const length = (text: string) => (/^[\d.,]+$/.test(text.trim()) ? `${text.trim().replace(',', '.')} ${lengthUnit.value === 'in' || lengthUnit.value === 'thou' ? 'in' : 'mm'}` : text.trim())
const key = computed(() => freeKey(form.name || 'fastener', props.taken))

/** The fields as a plan has them. */
function fields(): [string, unknown][] {
  const strength: [string, unknown][] = form.strength === 'card' ? [['yield', form.yield || '?'], ['tensile', form.tensile || '?']] : [['strength', form.strength]]
  return [
    ['name', form.name.trim()],
    ['thread', form.thread.trim()],
    ...strength,
    ...(form.bearing_diameter.trim() ? [['bearing_diameter', length(form.bearing_diameter)] as [string, unknown]] : []),
    ['thread_lubricant', form.thread_lubricant],
    ['bearing_lubricant', form.bearing_lubricant],
    ...(form.use ? [['single_use', true] as [string, unknown]] : []),
    ...(form.use === 'yield' ? [['to_yield', true] as [string, unknown]] : []),
    ...(form.source.trim() ? [['source', form.source.trim()] as [string, unknown]] : []),
    ...(form.elastic
      ? ([
          ['bolt', { head: form.head, end: form.end, segment: form.segments.filter((of) => of.length.trim()).map((of) => ({ length: length(of.length), diameter: of.diameter.trim() === 'thread' ? 'thread' : length(of.diameter) })) }],
          ['parts', { bearing_od: length(form.bearing_od), hole: length(form.hole), clamp_length: length(form.clamp_length), outer: length(form.outer), modulus: form.modulus, kind: form.end === 'tapped' ? 'tapped' : 'through' }],
        ] as [string, unknown][])
      : []),
  ]
}
async function keep() {
  if (!form.name.trim() || !form.thread.trim()) return void (error.value = 'It needs a name and a thread.')
  const edits: Edit[] = []
  let path: string
  if (was) {
    path = was.path
    const gone = ['strength', 'yield', 'tensile', 'bearing_diameter', 'single_use', 'to_yield', 'source', 'bolt', 'parts'].filter((of) => Object.keys(was.written).some((key) => key === of || key.startsWith(`${of}.`)))
    const given = new Map(fields())
    const isTheirs = (of: string) => writtenInText && (of === 'bolt' || of === 'parts')
    // Tables of their own are put in anew; single fields are changed where they stand.
    for (const of of gone.filter((of) => !isTheirs(of))) if (!given.has(of) || of === 'bolt' || of === 'parts') edits.push({ type: 'remove', path: `${path}.${of}` })
    for (const [field, value] of given) if (typeof value === 'object' || w(field) !== String(value)) edits.push({ type: 'set', path: `${path}.${field}`, value })
  } else {
    path = `fastener[${props.taken.length}]`
    edits.push({ type: 'add', within: '', text: `[[fastener]]\nid = ${JSON.stringify(key.value)}\n` })
    for (const [field, value] of fields()) edits.push({ type: 'set', path: `${path}.${field}`, value })
  }
  // A lubricant of the shop goes into the plan with its figures: the plan holds all that it needs.
  for (const id of new Set([form.thread_lubricant, form.bearing_lubricant])) {
    const own = lubricants.value?.own.find((of) => of.id === id)
    if (!own) continue
    const of = (face: 'thread' | 'bearing') => `[${own.low[face]}, ${own.typical[face]}, ${own.high[face]}]`
    edits.push({ type: 'add', within: '', text: `[[lubricant]]\nid = ${JSON.stringify(own.id)}\nname = ${JSON.stringify(own.name)}\nsource = ${JSON.stringify(own.source)}\nfilm = "${own.film}"\nthread = ${of('thread')}\nbearing = ${of('bearing')}\n` })
  }
  errors.value = {}
  try {
    error.value = await props.change(edits, path)
    if (!error.value) emit('close')
  } catch (caught) {
    if (!(caught instanceof Refused)) throw caught
    errors.value = caught.byField()
    error.value = 'Nothing was changed. What is wrong stands at its field.'
  }
}
</script>

<template>
  <SheetDialog open :title="was ? `Change ${was.name}` : 'Add a fastener'" @close="emit('close')">
    <form class="-mx-2 mt-3 grid max-h-[78dvh] gap-3 overflow-y-auto px-2 pt-1" @submit.prevent="keep">
      <div class="grid gap-3 sm:grid-cols-2">
        <label><span class="label-text">Name</span><input v-model="form.name" class="field mt-1" name="name" autocomplete="off" placeholder="Main cap stud" /></label>
        <label><span class="label-text">Thread</span><input v-model="form.thread" class="field mt-1" name="thread" autocomplete="off" placeholder="M10x1.25, 7/16-14" /><span v-if="errors['thread']" class="block font-semibold text-wrong" role="alert" data-test="wrong-thread">{{ errors['thread'] }}</span></label>
        <label>
          <span class="label-text">Strength: the mark on its head, or the card</span>
          <select v-model="form.strength" class="field mt-1" name="strength">
            <option v-for="of in CLASSES" :key="of" :value="of">{{ of }}</option>
            <option value="card">figures of the maker's card</option>
            <option value="?">not known yet</option>
          </select>
          <span v-if="errors['strength']" class="block font-semibold text-wrong" role="alert" data-test="wrong-strength">{{ errors['strength'] }}</span>
        </label>
        <label><span class="label-text">Mean bearing diameter</span><input v-model="form.bearing_diameter" class="field mt-1" name="bearing_diameter" autocomplete="off" placeholder="of an ordinary head" /><span v-if="errors['bearing_diameter']" class="block font-semibold text-wrong" role="alert" data-test="wrong-bearing_diameter">{{ errors['bearing_diameter'] }}</span></label>
        <template v-if="form.strength === 'card'">
          <label><span class="label-text">Yields at</span><input v-model="form.yield" class="field mt-1" name="yield" autocomplete="off" placeholder="1100 MPa" /><span v-if="errors['yield']" class="block font-semibold text-wrong" role="alert" data-test="wrong-yield">{{ errors['yield'] }}</span></label>
          <label><span class="label-text">Breaks at</span><input v-model="form.tensile" class="field mt-1" name="tensile" autocomplete="off" placeholder="1200 MPa" /><span v-if="errors['tensile']" class="block font-semibold text-wrong" role="alert" data-test="wrong-tensile">{{ errors['tensile'] }}</span></label>
        </template>
        <label v-for="face in (['thread_lubricant', 'bearing_lubricant'] as const)" :key="face">
          <span class="label-text">{{ face === 'thread_lubricant' ? 'On the thread' : 'Under the head or nut' }}</span>
          <select v-model="form[face]" class="field mt-1" :name="face"><option v-for="of in known" :key="of.id" :value="of.id">{{ of.name }}</option></select>
        </label>
        <label>
          <span class="label-text">Use</span>
          <select v-model="form.use" class="field mt-1" name="use"><option value="">used again</option><option value="once">single use</option><option value="yield">goes past yield, single use</option></select>
        </label>
        <label><span class="label-text">Where the figures come from</span><input v-model="form.source" class="field mt-1" name="source" autocomplete="off" placeholder="maker's card, page 3" /></label>
      </div>
      <p v-if="writtenInText" class="text-dim">Its resilience or its layers are written in the text of the plan and stay as they are.</p>
      <label v-else class="flex min-h-11 items-center gap-3"><input v-model="form.elastic" type="checkbox" class="size-6" name="elastic" /> I have its lengths: then angle and stretch have a forecast</label>
      <div v-if="form.elastic" class="grid gap-3">
        <BoltPicture :segments="form.segments" :end="form.end" :head="form.head" :clamp="form.clamp_length" :outer="form.outer" />
        <div v-for="(segment, at) in form.segments" :key="at" class="flex items-end gap-3">
          <label class="grow"><span class="label-text">{{ String.fromCharCode(65 + at) }}: length</span><input v-model="segment.length" class="line-field w-full" :name="`length-${at}`" autocomplete="off" placeholder="62 mm" /><span v-if="segmentError(at, 'length')" class="block font-semibold text-wrong" role="alert">{{ segmentError(at, 'length') }}</span></label>
          <label class="grow"><span class="label-text">diameter, or “thread”</span><input v-model="segment.diameter" class="line-field w-full" :name="`diameter-${at}`" autocomplete="off" placeholder="thread" /><span v-if="segmentError(at, 'diameter')" class="block font-semibold text-wrong" role="alert">{{ segmentError(at, 'diameter') }}</span></label>
          <button type="button" class="quiet-key min-h-11" :disabled="form.segments.length < 2" @click="form.segments.splice(at, 1)">Out</button>
        </div>
        <button type="button" class="quiet-key min-h-11 justify-self-start" @click="form.segments.push({ length: '', diameter: 'thread' })">One more length</button>
        <div class="grid grid-cols-2 gap-3">
          <label><span class="label-text">Head</span><select v-model="form.head" class="line-field w-full"><option value="hex">hexagon</option><option value="socket">socket</option></select></label>
          <label><span class="label-text">Ends in</span><select v-model="form.end" class="line-field w-full"><option value="tapped">a tapped hole</option><option value="nut">a nut</option></select></label>
          <label><span class="label-text">Clamped length</span><input v-model="form.clamp_length" class="line-field w-full" name="clamp_length" placeholder="80 mm" /><span v-if="errors['parts.clamp_length']" class="block font-semibold text-wrong" role="alert" data-test="wrong-parts.clamp_length">{{ errors['parts.clamp_length'] }}</span></label>
          <label><span class="label-text">Outer diameter of what is clamped</span><input v-model="form.outer" class="line-field w-full" name="outer" placeholder="32 mm" /><span v-if="errors['parts.outer']" class="block font-semibold text-wrong" role="alert" data-test="wrong-parts.outer">{{ errors['parts.outer'] }}</span></label>
          <label><span class="label-text">Outer diameter of the bearing face</span><input v-model="form.bearing_od" class="line-field w-full" name="bearing_od" placeholder="17 mm" /><span v-if="errors['parts.bearing_od']" class="block font-semibold text-wrong" role="alert" data-test="wrong-parts.bearing_od">{{ errors['parts.bearing_od'] }}</span></label>
          <label><span class="label-text">Hole</span><input v-model="form.hole" class="line-field w-full" name="hole" placeholder="12 mm" /><span v-if="errors['parts.hole']" class="block font-semibold text-wrong" role="alert" data-test="wrong-parts.hole">{{ errors['parts.hole'] }}</span></label>
          <label><span class="label-text">What is clamped is of</span><select v-model="form.modulus" class="line-field w-full"><option v-for="of in materials" :key="of.mpa" :value="of.mpa">{{ of.name }}</option><option v-if="!materials.some((of) => of.mpa === form.modulus)" :value="form.modulus">{{ form.modulus }}</option></select></label>
        </div>
      </div>
      <p v-for="of in others" :key="of" role="alert" class="font-semibold text-wrong">{{ of }}</p>
      <p v-if="error" role="alert" class="font-semibold text-wrong">{{ error }}</p>
      <div class="sticky bottom-0 flex flex-wrap justify-end gap-3 bg-face pt-2">
        <KeepPiece v-if="was" class="mr-auto" :draft="draft" :path="was.path" :what="was.name" />
        <button type="button" class="key" @click="emit('close')">Leave it</button>
        <button type="submit" class="key key-main" data-test="keep-fastener">Keep it</button>
      </div>
    </form>
  </SheetDialog>
</template>
