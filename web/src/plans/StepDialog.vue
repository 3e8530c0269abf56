<script setup lang="ts">
// A step of the build sequence: all that it says, changed where it stands; moved, split, removed, or another one put
// before it, behind it or beside it.
import { computed, reactive, ref } from 'vue'
import type { Schemas } from '../api/client'
import DialogForm from '../ui/DialogForm.vue'
import ErrorText from '../ui/ErrorText.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import TextField from '../ui/TextField.vue'
import { beginDryRun } from './dryRun'
import KeepPiece from './KeepPiece.vue'
import TableDialog from './forms/TableDialog.vue'
import { usePlanFormat, type Fields } from './forms/format'
import { withUnit } from './written'
import type { Change } from './useChange'
import type { Edit } from './useDraft'
import { t } from './texts'

type Place = Schemas['StepPlace']
const props = defineProps<{
  row: Schemas['LineRow']
  page: Schemas['PlanPage']
  uses: string[]
  draft: string
  faults?: Schemas['Fault'][]
  change: Change
}>()
const emit = defineEmits<{ close: [] }>()
/** Where another step goes, as long as one is added; or that this one is moved or split. */
const adding = ref<'after' | 'before' | 'beside'>()
const kind = ref('')
const moving = ref(false)
const splitting = ref(false)
const error = ref('')
/** The step as it is now: it is drawn anew with every change. */
const now = computed(() => props.page.line.find((of) => of.id === props.row.id) ?? props.row)
const signed = computed(() => props.row.kind === 'sign')
const place = computed<Place>(() => ({ [adding.value!]: now.value.path }) as Place)
const title = computed(() => {
  const name = now.value.name
  if (adding.value === 'before') return t('plans-add-step-before-2', { name })
  if (adding.value === 'beside') return t('plans-add-step-beside-2', { name })
  return t('plans-add-step-after-2', { now: name })
})

/** Kinds of steps that are asked for first, with what each begins with. */
const begun: Record<string, Fields> = {
  check: { kind: 'check', item: [{}] },
  tighten: { kind: 'tighten' },
  loosen: { kind: 'loosen' },
  seal: { kind: 'seal', item: [{}] },
  fit: { kind: 'fit', item: [{}] },
  count: { kind: 'count' },
  turn: { kind: 'turn', suspect: props.row.name.toLowerCase(), cautions: [t('plans-fingers-out-of-a-rotating')] },
  'take-in': { kind: 'take-in' },
  repeat: { kind: 'repeat', step: [{}] },
  sign: { kind: 'sign', name: t('plans-signature') },
}
const kinds = computed(() => ({
  check: t('plans-do'),
  measure: t('plans-measure-3'),
  tighten: t('plans-tighten-2'),
  loosen: t('plans-take-apart'),
  seal: t('plans-seal'),
  fit: t('plans-fit'),
  count: t('plans-count'),
  turn: t('plans-turn-the-crankshaft'),
  'take-in': t('plans-log-in'),
  repeat: t('plans-repeat-for-each'),
  ...(props.page.line.some((of) => of.kind === 'sign') ? {} : { sign: t('plans-sign') }),
}))
const addStep = (fields: Fields): Edit[] => [{ type: 'add-step', fields, place: place.value }]

const measured = reactive({ what: '', form: 'gap', count: 1, limits: '' })
const { tables } = usePlanFormat()
/** What can be measured at one place, as the plan format names it; a series and a strip have a form of their own. */
const forms = computed(() => {
  const kind = tables.value.get('site')?.fields.find((field) => field.key === 'form')?.kind
  return kind?.type === 'choice' ? kind.choices.filter((of) => of.value !== 'valve' && of.value !== 'strip') : []
})
const example: Record<string, string> = {
  chamber: '48 cm³, 48.5 cm³, 49 cm³',
  angle: '20°, 24°, 28°',
  torque: '1 N·m, 2 N·m, 4 N·m',
  pressure: '3 bar, 4 bar, 5 bar',
  temperature: '15 °C, 20 °C, 25 °C',
  mass: '610 g, 612 g, 614 g',
  count: '50, 51, 52',
}
async function tryFromHere() {
  error.value = await beginDryRun(props.draft, now.value.id)
}
async function give(edits: Edit[]) {
  error.value = await props.change(edits)
  if (!error.value) emit('close')
}
function measure() {
  const what = measured.what.trim()
  if (!what) return void (error.value = t('plans-enter-what-is-measured'))
  void give([
    {
      type: 'add-measurement',
      measurement: {
        name: what,
        step: t('plans-measure-2', { what }),
        form: measured.form,
        count: Math.max(1, Math.round(Number(measured.count)) || 1),
        use_for: props.uses[0]!,
        limits: withUnit(measured.limits, measured.form in example ? undefined : 'clearance'),
        place: place.value,
      },
    },
  ])
}

const target = ref('')
const where = ref<'after' | 'before' | 'beside'>('after')
const others = computed(() => props.page.line.filter((of) => of.id !== props.row.id))
const move = () =>
  give([{ type: 'move-step', path: now.value.path, place: { [where.value]: target.value } as unknown as Place }])

/** Names of the stages that are run here, one after the other. */
const stages = computed(() => now.value.stages)
const stays = ref(1)
/** What is measured between the two, such as a pan that is flush before it is torqued. */
const between = reactive({ what: '', limits: '' })
function split() {
  const edits: Edit[] = [{ type: 'split-step', path: now.value.path, stages: stages.value.slice(0, stays.value) }]
  const what = between.what.trim()
  if (what)
    edits.push({
      type: 'add-measurement',
      measurement: {
        name: what,
        step: t('plans-measure-2', { what }),
        form: 'gap',
        use_for: props.uses[0]!,
        limits: withUnit(between.limits, 'clearance'),
        place: { after: now.value.path },
      },
    })
  return give(edits)
}
</script>

<template>
  <SheetDialog v-if="adding && !kind" open :title="title" @close="emit('close')">
    <div class="mt-3 grid grid-cols-2 gap-2 sm:grid-cols-3">
      <button
        v-for="(name, key) in kinds"
        :key="key"
        type="button"
        class="key"
        :data-test="`step-${key}`"
        @click="kind = key"
      >
        {{ name }}
      </button>
    </div>
  </SheetDialog>
  <SheetDialog v-else-if="adding && kind === 'measure'" open :title="title" @close="emit('close')">
    <DialogForm :message="error" @submit="measure">
      <TextField
        v-model="measured.what"
        :label="t('plans-measurement')"
        name="step-what"
        :placeholder="t('plans-crankshaft-runout')"
      />
      <div class="grid grid-cols-2 gap-3">
        <label
          ><span class="label-text">{{ t('common-kind') }}</span
          ><select v-model="measured.form" class="field mt-1" name="step-form">
            <option v-for="of in forms" :key="of.value" :value="of.value">{{ of.label }}</option>
          </select></label
        >
        <label
          ><span class="label-text">{{ t('plans-number-of-places') }}</span
          ><input v-model.number="measured.count" class="field mt-1" name="step-count" inputmode="numeric"
        /></label>
      </div>
      <TextField
        v-model="measured.limits"
        :label="t('plans-limits-for-such-as-0-03', { uses: uses[0] })"
        name="step-window"
        :placeholder="example[measured.form] ?? t('plans-0-01-0-02-0-04')"
      />
      <template #actions>
        <button type="button" class="key" @click="kind = ''">{{ t('common-back') }}</button>
        <button class="key key-main" data-test="keep-step">{{ t('plans-add-step') }}</button>
      </template>
    </DialogForm>
  </SheetDialog>
  <TableDialog
    v-else-if="adding"
    :draft="draft"
    :page="page"
    table="operation"
    :title="t('plans-add-step')"
    :begun="begun[kind]"
    :add="addStep"
    :change="change"
    @close="emit('close')"
  />
  <SheetDialog v-else-if="moving" open :title="t('plans-move-2', { name: now.name })" @close="emit('close')">
    <DialogForm :message="error" @submit="move">
      <div class="grid gap-3 sm:grid-cols-[10rem_1fr]">
        <label
          ><span class="label-text">{{ t('plans-where') }}</span
          ><select v-model="where" class="field mt-1" name="move-where">
            <option value="after">{{ t('plans-after') }}</option>
            <option value="before">{{ t('plans-before') }}</option>
            <option value="beside">{{ t('plans-in-parallel-with') }}</option>
          </select></label
        >
        <label
          ><span class="label-text">{{ t('plans-step') }}</span
          ><select v-model="target" class="field mt-1" name="move-target">
            <option v-for="of in others" :key="of.path" :value="of.path">{{ of.name }}</option>
          </select></label
        >
      </div>
      <template #actions>
        <button type="button" class="key" @click="moving = false">{{ t('common-back') }}</button>
        <button class="key key-main" data-test="move-it" :disabled="!target">{{ t('plans-move') }}</button>
      </template>
    </DialogForm>
  </SheetDialog>
  <SheetDialog v-else-if="splitting" open :title="t('plans-split-2', { name: now.name })" @close="emit('close')">
    <DialogForm :message="error" @submit="split">
      <label
        ><span class="label-text">{{ t('plans-stays-in-this-step-up-to') }}</span
        ><select v-model.number="stays" class="field mt-1" name="split-after">
          <option v-for="(name, at) in stages.slice(0, -1)" :key="at" :value="at + 1">{{ name }}</option>
        </select></label
      >
      <p class="text-dim">{{ t('plans-the-rest-goes-into-a-step', { rest: stages.slice(stays).join(', ') }) }}</p>
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField
          v-model="between.what"
          :label="t('plans-measured-in-between')"
          name="between-what"
          :placeholder="t('plans-pan-to-bell-housing-face')"
        />
        <TextField
          v-if="between.what.trim()"
          v-model="between.limits"
          :label="t('plans-limits-for-such-as-0-03', { uses: uses[0] })"
          name="between-limits"
          :placeholder="t('plans-at-most-0-1')"
        />
      </div>
      <template #actions>
        <button type="button" class="key" @click="splitting = false">{{ t('common-back') }}</button>
        <button class="key key-main" data-test="split-it">{{ t('plans-split') }}</button>
      </template>
    </DialogForm>
  </SheetDialog>
  <TableDialog
    v-else
    :draft="draft"
    :page="page"
    table="operation"
    :path="row.path"
    :title="now.name"
    :faults="faults"
    :removal="signed ? undefined : 'take-out'"
    :change="change"
    @close="emit('close')"
  >
    <template #before>
      <div class="flex flex-wrap gap-x-4 border-b border-rule pb-1">
        <template v-if="!signed">
          <button type="button" class="quiet-key min-h-11" data-test="step-after" @click="adding = 'after'">
            {{ t('plans-add-step-after') }}
          </button>
        </template>
        <button type="button" class="quiet-key min-h-11" data-test="step-before" @click="adding = 'before'">
          {{ t('plans-add-step-before') }}
        </button>
        <button
          v-if="!signed"
          type="button"
          class="quiet-key min-h-11"
          data-test="step-beside"
          @click="adding = 'beside'"
        >
          {{ t('plans-add-step-in-parallel') }}
        </button>
        <button v-if="!signed" type="button" class="quiet-key min-h-11" data-test="step-move" @click="moving = true">
          {{ t('plans-move') }}
        </button>
        <button
          v-if="stages.length > 1"
          type="button"
          class="quiet-key min-h-11"
          data-test="step-split"
          @click="splitting = true"
        >
          {{ t('plans-split') }}
        </button>
        <button type="button" class="quiet-key min-h-11" data-test="dry-run-from" @click="tryFromHere">
          {{ t('plans-dry-run-from-here') }}
        </button>
      </div>
      <ErrorText :text="error" />
    </template>
    <template #actions>
      <KeepPiece
        v-if="['prepare', 'fit', 'check', 'seal'].includes(row.kind ?? '')"
        :draft="draft"
        :path="now.path"
        :what="now.name"
      />
    </template>
  </TableDialog>
</template>
