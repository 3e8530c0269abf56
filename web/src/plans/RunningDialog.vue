<script setup lang="ts">
// What a joint stands while its engine runs: what is not known stays empty and is not looked at.
import { computed, reactive } from 'vue'
import type { Schemas } from '../api/client'
import DialogForm from '../ui/DialogForm.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import { unitOf } from '../ui/units'
import { withUnit } from './written'
import { useChange, type Change } from './useChange'
import type { Edit } from './useDraft'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const props = defineProps<{ joint: Schemas['JointPage']; change: Change }>()
const emit = defineEmits<{ close: [] }>()
const w = (key: string) => props.joint.running[key] ?? ''
const form = reactive({
  kind: w('rod.stroke') ? 'rod' : w('axial') ? 'axial' : 'none',
  axial: w('axial'),
  needed: w('needed'),
  load_introduction: w('load_introduction'),
  reciprocating: w('rod.reciprocating'),
  rotating: w('rod.rotating'),
  stroke: w('rod.stroke'),
  length: w('rod.length'),
  speed: w('rod.speed'),
  hotParts: w('hot.parts'),
  hotBolt: w('hot.bolt'),
  coldParts: w('cold.parts'),
  coldBolt: w('cold.bolt'),
  roughness: w('settling.roughness'),
  heads: w('settling.heads') || '1',
  interfaces: w('settling.interfaces') || '1',
  creep: w('settling.creep') ? String(Number(w('settling.creep')) * 100) : '',
})
const { message, errors, send } = useChange(props.change, () => emit('close'))
const number = (text: string) =>
  Number.isFinite(Number(text.replace(',', '.'))) && text.trim() ? Number(text.replace(',', '.')) : text
const grams = (text: string) => (/[a-z]/i.test(text) ? text : `${text.trim()} g`)
const degrees = (text: string) => (/[a-z°]/i.test(text) ? text : `${text.trim()} °C`)

/** The table as a plan has it; nothing where nothing is given. */
const table = computed(() => {
  const of: Record<string, unknown> = {}
  if (form.kind === 'axial' && form.axial.trim()) of.axial = withUnit(form.axial, 'force')
  if (form.kind === 'rod')
    of.rod = {
      reciprocating: grams(form.reciprocating),
      rotating: grams(form.rotating),
      stroke: withUnit(form.stroke, 'length'),
      length: withUnit(form.length, 'length'),
      speed: number(form.speed),
    }
  if (form.kind !== 'none' && form.needed.trim()) of.needed = withUnit(form.needed, 'force')
  if (form.kind !== 'none' && form.load_introduction.trim()) of.load_introduction = number(form.load_introduction)
  if (form.hotParts.trim() || form.hotBolt.trim())
    of.hot = { parts: degrees(form.hotParts), bolt: degrees(form.hotBolt || form.hotParts) }
  if (form.coldParts.trim() || form.coldBolt.trim())
    of.cold = { parts: degrees(form.coldParts), bolt: degrees(form.coldBolt || form.coldParts) }
  if (form.roughness)
    of.settling = {
      roughness: form.roughness,
      heads: number(form.heads),
      interfaces: number(form.interfaces),
      ...(form.creep.trim() ? { creep: Number(form.creep.replace(',', '.')) / 100 } : {}),
    }
  return of
})
async function save() {
  const path = `${props.joint.path}.running`
  const had = Object.keys(props.joint.running).length > 0
  const edits: Edit[] = had ? [{ type: 'remove', path }] : []
  if (Object.keys(table.value).length) edits.push({ type: 'set', path, value: table.value })
  if (!edits.length) return emit('close')
  await send(edits, path)
}
</script>

<template>
  <SheetDialog open :title="t('plans-running-loads-of', { joint: joint.name })" @close="emit('close')">
    <DialogForm :message="message" @submit="save">
      <label
        ><span class="label-text">{{ t('plans-working-load') }}</span>
        <select v-model="form.kind" class="line-field w-full" name="running-kind">
          <option value="none">{{ t('plans-none') }}</option>
          <option value="axial">{{ t('plans-a-load-on-each-bolt') }}</option>
          <option value="rod">{{ t('plans-a-piston-and-rod-at-speed') }}</option>
        </select>
      </label>
      <TextField
        v-if="form.kind === 'axial'"
        v-model="form.axial"
        :label="t('plans-load-on-each-bolt-in-unless', { unit: unitOf('force') })"
        name="axial"
        required
      />
      <div v-if="form.kind === 'rod'" class="grid gap-3 sm:grid-cols-2">
        <TextField
          v-model="form.reciprocating"
          :label="t('plans-reciprocating-mass-g-piston-pin-rings')"
          name="reciprocating"
          inputmode="decimal"
          required
        />
        <TextField
          v-model="form.rotating"
          :label="t('plans-rotating-mass-of-the-rod-without')"
          name="rotating"
          inputmode="decimal"
          required
        />
        <TextField
          v-model="form.stroke"
          :label="t('plans-stroke', { unit: unitOf('length') })"
          name="stroke"
          inputmode="decimal"
          required
        />
        <TextField
          v-model="form.length"
          :label="t('plans-rod-between-centres', { unit: unitOf('length') })"
          name="rod-length"
          inputmode="decimal"
          required
        />
        <TextField v-model="form.speed" :label="t('plans-speed-rpm')" name="speed" inputmode="numeric" required />
      </div>
      <div v-if="form.kind !== 'none'" class="grid gap-3 sm:grid-cols-2">
        <TextField
          v-model="form.needed"
          :label="t('plans-clamp-load-needed-at-each-bolt', { unit: unitOf('force') })"
          name="needed"
          placeholder="0"
        />
        <TextField
          v-model="form.load_introduction"
          :label="t('plans-load-introduction-n-0-to-1')"
          name="introduction"
          inputmode="decimal"
          placeholder="0.3"
        />
      </div>
      <fieldset class="grid gap-3 sm:grid-cols-2">
        <legend class="label-text">
          {{ t('plans-temperatures-c-tightened-at-20-c') }}
        </legend>
        <TextField v-model="form.hotParts" :label="t('plans-hot-parts')" name="hot-parts" placeholder="110" />
        <TextField
          v-model="form.hotBolt"
          :label="t('plans-hot-bolt')"
          name="hot-bolt"
          :placeholder="t('plans-as-the-parts')"
        />
        <TextField v-model="form.coldParts" :label="t('plans-cold-parts')" name="cold-parts" placeholder="-20" />
        <TextField
          v-model="form.coldBolt"
          :label="t('plans-cold-bolt')"
          name="cold-bolt"
          :placeholder="t('plans-as-the-parts')"
        />
      </fieldset>
      <fieldset class="grid gap-3 sm:grid-cols-2">
        <legend class="label-text">{{ t('plans-settling') }}</legend>
        <label
          ><span class="label-text">{{ t('plans-faces') }}</span
          ><select v-model="form.roughness" class="line-field w-full" name="roughness">
            <option value="">{{ t('plans-not-considered') }}</option>
            <option value="smooth">{{ t('plans-smooth-rz-under-10-um') }}</option>
            <option value="usual">{{ t('plans-medium-rz-10-to-40-um') }}</option>
            <option value="rough">{{ t('plans-rough-rz-over-40-um') }}</option>
          </select></label
        >
        <template v-if="form.roughness">
          <TextField v-model="form.heads" :label="t('plans-heads-and-nuts')" name="heads" inputmode="numeric" />
          <TextField
            v-model="form.interfaces"
            :label="t('plans-faces-between-parts-washers-too')"
            name="interfaces"
            inputmode="numeric"
          />
          <TextField
            v-model="form.creep"
            :label="t('plans-a-gasket-creeps-by-of-the')"
            name="creep"
            inputmode="decimal"
            placeholder="0"
          />
        </template>
      </fieldset>
      <p v-for="(text, field) in errors" :key="field" class="said-wrong" role="alert">{{ field }}: {{ text }}</p>
      <template #actions>
        <button type="button" class="key" @click="emit('close')">{{ t('common-cancel') }}</button>
        <button class="key key-main" data-test="save-running">{{ t('common-save') }}</button>
      </template>
    </DialogForm>
  </SheetDialog>
</template>
