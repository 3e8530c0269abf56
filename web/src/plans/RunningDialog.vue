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
  <SheetDialog open :title="`Running loads of ${joint.name}`" @close="emit('close')">
    <DialogForm :message="message" @submit="save">
      <label
        ><span class="label-text">What pulls on it</span>
        <select v-model="form.kind" class="line-field w-full" name="running-kind">
          <option value="none">Nothing that is looked at</option>
          <option value="axial">A load on each bolt</option>
          <option value="rod">A piston and rod at speed</option>
        </select>
      </label>
      <label v-if="form.kind === 'axial'"
        ><span class="label-text">Load on each bolt, in {{ unitOf('force') }} where no unit is given</span
        ><input v-model="form.axial" class="field mt-1" name="axial" autocomplete="off" required
      /></label>
      <div v-if="form.kind === 'rod'" class="grid gap-3 sm:grid-cols-2">
        <label
          ><span class="label-text">Reciprocating mass, g: piston, pin, rings, small end</span
          ><input
            v-model="form.reciprocating"
            class="field mt-1"
            name="reciprocating"
            inputmode="decimal"
            autocomplete="off"
            required
        /></label>
        <label
          ><span class="label-text">Rotating mass of the rod without its cap, g</span
          ><input
            v-model="form.rotating"
            class="field mt-1"
            name="rotating"
            inputmode="decimal"
            autocomplete="off"
            required
        /></label>
        <label
          ><span class="label-text">Stroke, {{ unitOf('length') }}</span
          ><input
            v-model="form.stroke"
            class="field mt-1"
            name="stroke"
            inputmode="decimal"
            autocomplete="off"
            required
        /></label>
        <label
          ><span class="label-text">Rod between centres, {{ unitOf('length') }}</span
          ><input
            v-model="form.length"
            class="field mt-1"
            name="rod-length"
            inputmode="decimal"
            autocomplete="off"
            required
        /></label>
        <label
          ><span class="label-text">Speed, rpm</span
          ><input v-model="form.speed" class="field mt-1" name="speed" inputmode="numeric" autocomplete="off" required
        /></label>
      </div>
      <div v-if="form.kind !== 'none'" class="grid gap-3 sm:grid-cols-2">
        <label
          ><span class="label-text">Has to stay clamped at each bolt, {{ unitOf('force') }}</span
          ><input v-model="form.needed" class="field mt-1" name="needed" autocomplete="off" placeholder="0"
        /></label>
        <label
          ><span class="label-text">Load introduction n, 0 to 1</span
          ><input
            v-model="form.load_introduction"
            class="field mt-1"
            name="introduction"
            inputmode="decimal"
            autocomplete="off"
            placeholder="0.3"
        /></label>
      </div>
      <fieldset class="grid gap-3 sm:grid-cols-2">
        <legend class="label-text">
          Temperatures, °C; tightened at 20 °C. They need the materials of the clamped parts
        </legend>
        <label
          ><span class="label-text">Hot: parts</span
          ><input v-model="form.hotParts" class="field mt-1" name="hot-parts" autocomplete="off" placeholder="110"
        /></label>
        <label
          ><span class="label-text">Hot: bolt</span
          ><input
            v-model="form.hotBolt"
            class="field mt-1"
            name="hot-bolt"
            autocomplete="off"
            placeholder="as the parts"
        /></label>
        <label
          ><span class="label-text">Cold: parts</span
          ><input v-model="form.coldParts" class="field mt-1" name="cold-parts" autocomplete="off" placeholder="-20"
        /></label>
        <label
          ><span class="label-text">Cold: bolt</span
          ><input
            v-model="form.coldBolt"
            class="field mt-1"
            name="cold-bolt"
            autocomplete="off"
            placeholder="as the parts"
        /></label>
      </fieldset>
      <fieldset class="grid gap-3 sm:grid-cols-2">
        <legend class="label-text">Settling</legend>
        <label
          ><span class="label-text">Faces</span
          ><select v-model="form.roughness" class="line-field w-full" name="roughness">
            <option value="">Not looked at</option>
            <option value="smooth">Smooth, Rz under 10 µm</option>
            <option value="usual">Usual, Rz 10 to 40 µm</option>
            <option value="rough">Rough, Rz over 40 µm</option>
          </select></label
        >
        <template v-if="form.roughness">
          <label
            ><span class="label-text">Heads and nuts</span
            ><input v-model="form.heads" class="field mt-1" name="heads" inputmode="numeric" autocomplete="off"
          /></label>
          <label
            ><span class="label-text">Faces between parts, washers too</span
            ><input
              v-model="form.interfaces"
              class="field mt-1"
              name="interfaces"
              inputmode="numeric"
              autocomplete="off"
          /></label>
          <label
            ><span class="label-text">A gasket creeps by, % of the load</span
            ><input
              v-model="form.creep"
              class="field mt-1"
              name="creep"
              inputmode="decimal"
              autocomplete="off"
              placeholder="0"
          /></label>
        </template>
      </fieldset>
      <p v-for="(text, field) in errors" :key="field" class="said-wrong" role="alert">{{ field }}: {{ text }}</p>
      <template #actions>
        <button type="button" class="key" @click="emit('close')">Cancel</button>
        <button class="key key-main" data-test="save-running">Save</button>
      </template>
    </DialogForm>
  </SheetDialog>
</template>
