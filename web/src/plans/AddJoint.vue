<script setup lang="ts">
// A joint more: what it is called, its fastener, how many and how they lie. Its part is outlined around them, its
// procedure is a question, and a step of the work tightens it.
import { reactive, ref } from 'vue'
import type { Schemas } from '../api/client'
import SheetDialog from '../ui/SheetDialog.vue'
import DialogActions from '../ui/DialogActions.vue'
import { freeKey } from './written'
import { outline } from './outline'
import type { Edit } from './useDraft'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const props = defineProps<{ page: Schemas['PlanPage']; change: (edits: Edit[]) => Promise<string> }>()
const emit = defineEmits<{ close: [] }>()
const form = reactive({
  name: '',
  fastener: props.page.fasteners[0]?.id ?? '',
  count: 8,
  lie: 'row' as 'row' | 'two' | 'circle',
  apart: 50,
})
const error = ref('')
const quoted = (text: string) => JSON.stringify(text)

function places(): [number, number][] {
  const { count, apart, lie } = form
  const half = Math.ceil(count / 2)
  const radius = (apart * count) / (2 * Math.PI)
  return Array.from({ length: count }, (_, at) => {
    if (lie === 'row') return [at * apart, 0]
    if (lie === 'two') return [(at % half) * apart, at < half ? -apart / 2 : apart / 2]
    const turn = (2 * Math.PI * at) / count
    return [Math.round(radius * Math.sin(turn) * 10) / 10, Math.round(-radius * Math.cos(turn) * 10) / 10]
  })
}
async function add() {
  if (!form.name.trim()) return void (error.value = t('plans-enter-a-name'))
  if (!form.fastener) return void (error.value = t('plans-add-its-fastener-first'))
  if (!(form.count >= 1 && form.count <= 200 && form.apart > 0))
    return void (error.value = t('plans-1-to-200-fasteners-some-way'))
  const taken = [
    ...props.page.joints.map((of) => of.id),
    ...props.page.drawings.map((of) => of.drawing.id),
    ...props.page.line.map((of) => of.id),
  ]
  const id = freeKey(
    form.name,
    taken.flatMap((of) => [of, of.replace(/-(part|tighten)$/, '')]),
  )
  const at = places()
  const lines = at.map(([x, y], number) => `  { id = "${number + 1}", at = [${x}, ${y}] },`).join('\n')
  const pattern = form.lie === 'circle' && form.count > 2 ? 'criss-cross' : 'centre-out'
  const text = `[[drawing]]
id = "${id}-part"
name = ${quoted(form.name.trim())}
shape = [${outline(at)}]

[[joint]]
id = "${id}"
name = ${quoted(form.name.trim())}
drawing = "${id}-part"
procedure = "?"

[[joint.group]]
id = "bolts"
name = "bolt"
fastener = "${form.fastener}"
pattern = "${pattern}"
position = [
${lines}
]

[[operation]]
id = "${id}-tighten"
name = ${quoted(t('plans-tighten', { form: form.name.trim() }))}
kind = "tighten"
joint = "${id}"
`
  error.value = await props.change([{ type: 'add', within: '', text }])
  if (!error.value) emit('close')
}
</script>

<template>
  <SheetDialog open :title="t('plans-add-joint')" @close="emit('close')">
    <form class="mt-3 grid gap-3" @submit.prevent="add">
      <TextField v-model="form.name" :label="t('common-name')" name="joint-name" :placeholder="t('plans-oil-pump')" />
      <label
        ><span class="label-text">{{ t('common-fastener') }}</span
        ><select v-model="form.fastener" class="field mt-1" name="joint-fastener">
          <option v-for="of in page.fasteners" :key="of.id" :value="of.id">{{ of.name }}, {{ of.thread }}</option>
        </select></label
      >
      <div class="grid grid-cols-3 gap-3">
        <label
          ><span class="label-text">{{ t('common-number') }}</span
          ><input v-model.number="form.count" class="field mt-1" name="joint-count" inputmode="numeric"
        /></label>
        <label
          ><span class="label-text">{{ t('plans-arrangement') }}</span
          ><select v-model="form.lie" class="field mt-1" name="joint-lie">
            <option value="row">{{ t('plans-in-a-row') }}</option>
            <option value="two">{{ t('plans-in-two-rows') }}</option>
            <option value="circle">{{ t('plans-on-a-circle') }}</option>
          </select></label
        >
        <label
          ><span class="label-text">{{ t('plans-spacing-mm') }}</span
          ><input v-model.number="form.apart" class="field mt-1" name="joint-apart" inputmode="decimal"
        /></label>
      </div>
      <p class="text-dim">{{ t('plans-move-mirror-and-repeat-them-on') }}</p>
      <DialogActions :action="t('plans-add-joint')" :error="error" test="keep-joint" @close="emit('close')" />
    </form>
  </SheetDialog>
</template>
