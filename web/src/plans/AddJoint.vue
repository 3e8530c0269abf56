<script setup lang="ts">
// A joint more: what it is called, its groups of fasteners, how many and how they lie, and where it is tightened. Its
// part is outlined around them.
import { reactive, ref } from 'vue'
import type { Schemas } from '../api/client'
import DialogForm from '../ui/DialogForm.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import TextField from '../ui/TextField.vue'
import { unitOf } from '../ui/units'
import { withUnit } from './written'
import type { Change } from './useChange'
import { t } from './texts'

const props = defineProps<{ page: Schemas['PlanPage']; change: Change }>()
const emit = defineEmits<{ close: [] }>()
const group = () => ({
  name: '',
  fastener: props.page.fasteners[0]?.id ?? '',
  count: 8,
  arrangement: 'row' as Schemas['Arrangement'],
  spacing: unitOf('length') === 'in' ? '2' : '50',
})
const form = reactive({ name: '', procedure: '', source: '', place: '', groups: [group()] })
const error = ref('')
const arrangements: Record<Schemas['Arrangement'], string> = {
  row: t('plans-in-a-row'),
  'two-rows': t('plans-in-two-rows'),
  circle: t('plans-on-a-circle'),
  rectangle: t('plans-around-a-rectangle'),
}
/** A step before which it is tightened, such as the one that covers it. */
const steps = props.page.line
async function add() {
  if (!form.name.trim()) return void (error.value = t('plans-enter-a-name'))
  if (form.groups.some((of) => !of.fastener)) return void (error.value = t('plans-add-its-fastener-first'))
  const whole = (count: unknown) => Math.max(0, Math.round(Number(count)) || 0)
  const groups = form.groups.map((of) => ({ ...of, count: whole(of.count), spacing: withUnit(of.spacing, 'length') }))
  const { name, procedure, source } = form
  const place: Schemas['StepPlace'] = form.place ? { before: form.place } : 'last'
  error.value = await props.change([{ type: 'add-joint', joint: { name, procedure, source, groups, place } }])
  if (!error.value) emit('close')
}
</script>

<template>
  <SheetDialog open :title="t('plans-add-joint')" @close="emit('close')">
    <DialogForm :message="error" @submit="add">
      <TextField v-model="form.name" :label="t('common-name')" name="joint-name" :placeholder="t('plans-oil-pump')" />
      <fieldset v-for="(of, at) in form.groups" :key="at" class="grid gap-3 border-t border-rule pt-2">
        <div v-if="form.groups.length > 1" class="flex items-end gap-3">
          <TextField
            v-model="of.name"
            class="grow"
            :label="t('plans-group', { number: at + 1 })"
            :name="`joint-group-${at}`"
            :placeholder="at ? t('plans-side-bolts') : t('plans-inner-bolts')"
          />
          <button type="button" class="quiet-key min-h-11" @click="form.groups.splice(at, 1)">
            {{ t('common-remove') }}
          </button>
        </div>
        <label
          ><span class="label-text">{{ t('common-fastener') }}</span
          ><select v-model="of.fastener" class="field mt-1" :name="at ? `joint-fastener-${at}` : 'joint-fastener'">
            <option v-for="one in page.fasteners" :key="one.id" :value="one.id">
              {{ one.name }}, {{ one.thread }}
            </option>
          </select></label
        >
        <div class="grid grid-cols-3 gap-3">
          <label
            ><span class="label-text">{{ t('common-number') }}</span
            ><input
              v-model.number="of.count"
              class="field mt-1"
              :name="at ? `joint-count-${at}` : 'joint-count'"
              inputmode="numeric"
          /></label>
          <label
            ><span class="label-text">{{ t('plans-arrangement') }}</span
            ><select v-model="of.arrangement" class="field mt-1" :name="at ? `joint-lie-${at}` : 'joint-lie'">
              <option v-for="(name, key) in arrangements" :key="key" :value="key">{{ name }}</option>
            </select></label
          >
          <label
            ><span class="label-text">{{ t('plans-spacing-in', { unit: unitOf('length') }) }}</span
            ><input
              v-model="of.spacing"
              class="field mt-1"
              :name="at ? `joint-apart-${at}` : 'joint-apart'"
              inputmode="decimal"
          /></label>
        </div>
      </fieldset>
      <button
        type="button"
        class="quiet-key min-h-11 justify-self-start"
        data-test="more-groups"
        @click="form.groups.push(group())"
      >
        {{ t('plans-add-group') }}
      </button>
      <TextField
        v-model="form.procedure"
        :label="t('plans-procedure-as-in-the-manual')"
        name="joint-procedure"
        :placeholder="t('plans-40-n-m-70-n-m')"
      />
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField
          v-model="form.source"
          :label="t('common-source-of-the-figures')"
          name="joint-source"
          :placeholder="t('plans-makers-card-page-3')"
        />
        <label
          ><span class="label-text">{{ t('plans-tightened-before') }}</span
          ><select v-model="form.place" class="field mt-1" name="joint-place">
            <option value="">{{ t('plans-end-of-build') }}</option>
            <option v-for="of in steps" :key="of.path" :value="of.path">{{ of.name }}</option>
          </select></label
        >
      </div>
      <p class="text-dim">{{ t('plans-move-mirror-and-repeat-them-on') }}</p>
      <template #actions>
        <button type="button" class="key" @click="emit('close')">{{ t('common-cancel') }}</button>
        <button class="key key-main" data-test="keep-joint">{{ t('plans-add-joint') }}</button>
      </template>
    </DialogForm>
  </SheetDialog>
</template>
