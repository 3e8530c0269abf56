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
        ><span class="label-text">Working load</span>
        <select v-model="form.kind" class="line-field w-full" name="running-kind">
          <option value="none">None</option>
          <option value="axial">A load on each bolt</option>
          <option value="rod">A piston and rod at speed</option>
        </select>
      </label>
      <TextField
        v-if="form.kind === 'axial'"
        v-model="form.axial"
        :label="`Load on each bolt, in ${unitOf('force')} unless a unit is typed`"
        name="axial"
        required
      />
      <div v-if="form.kind === 'rod'" class="grid gap-3 sm:grid-cols-2">
        <TextField
          v-model="form.reciprocating"
          label="Reciprocating mass, g: piston, pin, rings, small end"
          name="reciprocating"
          inputmode="decimal"
          required
        />
        <TextField
          v-model="form.rotating"
          label="Rotating mass of the rod without its cap, g"
          name="rotating"
          inputmode="decimal"
          required
        />
        <TextField
          v-model="form.stroke"
          :label="`Stroke, ${unitOf('length')}`"
          name="stroke"
          inputmode="decimal"
          required
        />
        <TextField
          v-model="form.length"
          :label="`Rod between centres, ${unitOf('length')}`"
          name="rod-length"
          inputmode="decimal"
          required
        />
        <TextField v-model="form.speed" label="Speed, rpm" name="speed" inputmode="numeric" required />
      </div>
      <div v-if="form.kind !== 'none'" class="grid gap-3 sm:grid-cols-2">
        <TextField
          v-model="form.needed"
          :label="`Clamp load needed at each bolt, ${unitOf('force')}`"
          name="needed"
          placeholder="0"
        />
        <TextField
          v-model="form.load_introduction"
          label="Load introduction n, 0 to 1"
          name="introduction"
          inputmode="decimal"
          placeholder="0.3"
        />
      </div>
      <fieldset class="grid gap-3 sm:grid-cols-2">
        <legend class="label-text">
          Temperatures, °C; tightened at 20 °C. They need the materials of the clamped parts
        </legend>
        <TextField v-model="form.hotParts" label="Hot: parts" name="hot-parts" placeholder="110" />
        <TextField v-model="form.hotBolt" label="Hot: bolt" name="hot-bolt" placeholder="as the parts" />
        <TextField v-model="form.coldParts" label="Cold: parts" name="cold-parts" placeholder="-20" />
        <TextField v-model="form.coldBolt" label="Cold: bolt" name="cold-bolt" placeholder="as the parts" />
      </fieldset>
      <fieldset class="grid gap-3 sm:grid-cols-2">
        <legend class="label-text">Settling</legend>
        <label
          ><span class="label-text">Faces</span
          ><select v-model="form.roughness" class="line-field w-full" name="roughness">
            <option value="">Not considered</option>
            <option value="smooth">Smooth, Rz under 10 µm</option>
            <option value="usual">Medium, Rz 10 to 40 µm</option>
            <option value="rough">Rough, Rz over 40 µm</option>
          </select></label
        >
        <template v-if="form.roughness">
          <TextField v-model="form.heads" label="Heads and nuts" name="heads" inputmode="numeric" />
          <TextField
            v-model="form.interfaces"
            label="Faces between parts, washers too"
            name="interfaces"
            inputmode="numeric"
          />
          <TextField
            v-model="form.creep"
            label="A gasket creeps by, % of the load"
            name="creep"
            inputmode="decimal"
            placeholder="0"
          />
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
