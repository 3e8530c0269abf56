<script setup lang="ts">
// What piston to valve is computed from, beside what is measured: crank, rod, and the lift at each angle.
import { computed, reactive } from 'vue'
import type { Schemas } from '../api/client'
import DialogForm from '../ui/DialogForm.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import { unitOf } from '../ui/units'
import { useChange, type Change } from './useChange'
import type { Edit } from './useDraft'
import { withUnit } from './written'
import { t } from './texts'

const props = defineProps<{ clearance: Schemas['ClearancePage']; change: Change }>()
const emit = defineEmits<{ close: [] }>()
const w = (key: string) => props.clearance.valve[key] ?? ''
const form = reactive({
  stroke: w('stroke'),
  rod: w('rod'),
  offset: w('offset'),
  shut: w('shut'),
  angle: w('angle'),
  lift: props.clearance.series.map((_, at) => w(`lift[${at}]`)),
})
const had = Object.keys(props.clearance.valve).length > 0
const path = computed(() => `${props.clearance.path}.valve`)
const fields = [
  { key: 'stroke', label: t('plans-stroke-2'), hint: '86 mm' },
  { key: 'rod', label: t('plans-rod-between-centres-2'), hint: '144 mm' },
  { key: 'shut', label: t('plans-valve-to-piston-at-top-dead'), hint: '4.6 mm' },
  { key: 'angle', label: t('plans-angle-between-valve-and-bore'), hint: '0°' },
  { key: 'offset', label: t('plans-pin-offset'), hint: t('common-none') },
] as const
/** What the plan calls a crank angle. */
const named = (degrees: number) =>
  degrees === 0
    ? t('plans-top')
    : degrees < 0
      ? t('plans-before-top', { degrees: -degrees })
      : t('plans-after-top', { degrees })

const { message, errors, send } = useChange(props.change, () => emit('close'))
const remove: Edit[] = had ? [{ type: 'remove', path: path.value }] : []
function save() {
  const value = {
    stroke: withUnit(form.stroke, 'length'),
    rod: withUnit(form.rod, 'length'),
    shut: withUnit(form.shut, 'clearance'),
    ...(form.angle.trim() ? { angle: withUnit(form.angle, 'angle') } : {}),
    ...(form.offset.trim() ? { offset: withUnit(form.offset, 'length') } : {}),
    lift: form.lift.map((text) => withUnit(text, 'clearance')),
  }
  void send([...remove, { type: 'set', path: path.value, value }], path.value)
}
</script>

<template>
  <SheetDialog open :title="t('plans-computed', { clearance: clearance.name })" @close="emit('close')">
    <DialogForm :message="message" @submit="save">
      <p class="text-dim">
        {{ t('plans-valve-lift-with-the-lash-taken') }}
      </p>
      <div class="grid gap-3 sm:grid-cols-2">
        <label v-for="of in fields" :key="of.key">
          <span class="label-text"
            >{{ of.label
            }}<template v-if="of.key !== 'angle'"
              >, {{ unitOf(of.key === 'shut' ? 'clearance' : 'length') }}</template
            ></span
          >
          <input v-model="form[of.key]" class="field mt-1" :name="of.key" autocomplete="off" :placeholder="of.hint" />
          <span v-if="errors[of.key]" class="said-wrong" role="alert">{{ errors[of.key] }}</span>
        </label>
      </div>
      <fieldset class="grid gap-3 sm:grid-cols-2">
        <legend class="label-text">{{ t('plans-lift', { unit: unitOf('clearance') }) }}</legend>
        <label v-for="(degrees, at) in clearance.series" :key="degrees" class="flex items-baseline gap-3"
          ><span class="w-32 shrink-0">{{ named(degrees) }}</span
          ><input
            v-model="form.lift[at]"
            class="line-field min-h-11 w-full"
            :name="`lift-${at}`"
            inputmode="decimal"
            autocomplete="off"
        /></label>
      </fieldset>
      <p
        v-for="[field, text] in Object.entries(errors).filter(([field]) => !fields.some((of) => of.key === field))"
        :key="field"
        class="said-wrong"
        role="alert"
      >
        {{ field }}: {{ text }}
      </p>
      <template #actions>
        <button v-if="had" type="button" class="quiet-key mr-auto min-h-11" @click="send(remove, path)">
          {{ t('common-remove') }}
        </button>
        <button type="button" class="key" @click="emit('close')">{{ t('common-cancel') }}</button>
        <button type="submit" class="key key-main" data-test="save-valve">{{ t('common-save') }}</button>
      </template>
    </DialogForm>
  </SheetDialog>
</template>
