<script setup lang="ts">
// One joint of a plan: its part with its fasteners, its procedure in one line and as stages. In a draft all of it
// can be changed where it stands.
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { convert, unitOf } from '../ui/units'
import AssumedMark from './AssumedMark.vue'
import JointLoads from './JointLoads.vue'
import KeepPiece from './KeepPiece.vue'
import KeptField from './KeptField.vue'
import ManualPages from './ManualPages.vue'
import PartDrawing from './PartDrawing.vue'
import TableDialog from './forms/TableDialog.vue'
import ProcedureField from './ProcedureField.vue'
import RunningDialog from './RunningDialog.vue'
import StageTable from './StageTable.vue'
import type { Edit } from './useDraft'
import { t } from './texts'

type Joint = Schemas['JointPage']
const props = defineProps<{
  joint: Joint
  page: Schemas['PlanPage']
  faults?: Schemas['Fault'][]
  draft?: string
  plan?: string
  change?: (edits: Edit[], sound?: string) => Promise<string>
}>()
const patterns: Record<Schemas['SequencePattern'], string> = {
  'centre-out': t('plans-centre-out'),
  'outside-in': t('plans-outside-in'),
  'criss-cross': t('plans-criss-cross'),
  diagonal: t('plans-diagonally'),
  clockwise: t('plans-clockwise'),
  line: t('plans-in-line'),
  listed: t('plans-as-listed'),
}
const error = ref('')
const running = ref(false)
const loads = ref(false)
const selected = ref<string[]>([])
/** Which of the grids fasteners snap to. */
const grid = ref(2)
const all = computed(() => props.joint.groups.flatMap((group) => group.fasteners))
const one = computed(() =>
  selected.value.length === 1 ? all.value.find((of) => of.id === selected.value[0]) : undefined,
)
const round = (value: number) => Math.round(value * 1000) / 1000
/** Places are typed and shown in the unit of lengths that was chosen. */
const unit = computed(() => unitOf('length'))
const shown = (mm: number) => round(convert(mm, 'mm', unit.value))
const inMm = (value: number) => convert(value, unit.value, 'mm')
const grids = computed(() => (unit.value === 'in' ? [0.005, 0.02, 0.05, 0.25] : [0.1, 0.5, 1, 5]))

async function give(edits: Edit[]) {
  if (!edits.length || !props.change) return ''
  error.value = await props.change(edits)
  return error.value
}
const set = (path: string, value: unknown): Edit => ({ type: 'set', path, value })
const put = (path: string) => (event: Event) => give([set(path, (event.target as HTMLInputElement).value)])
const kept = (path: string) => (text: string) => give([set(path, text)])
/** A fastener goes to a place that is typed. */
function place(text: string, to: (typed: number, x: number, y: number) => [number, number]) {
  const typed = Number(text.replace(',', '.'))
  if (!text.trim() || !Number.isFinite(typed)) return t('plans-figure-in-unit-needed', { unit: unit.value })
  return give(moved([one.value!.id], (x, y) => to(inMm(typed), x, y)))
}
/** Fasteners go to other places, all of them at once. */
const moved = (ids: string[], to: (x: number, y: number) => [number, number]) =>
  all.value
    .filter((of) => ids.includes(of.id) && of.path)
    .map((of) => set(`${of.path}.at`, to(of.x_mm, of.y_mm).map(round)))
const move = (by: [number, number], ids: string[]) => give(moved(ids, (x, y) => [x + by[0], y + by[1]]))
const middle = computed(() => {
  const xs = props.joint.drawing.shapes.flatMap((shape) => ('points' in shape ? shape.points.map((p) => p[0]!) : []))
  return xs.length ? (Math.min(...xs) + Math.max(...xs)) / 2 : 0
})
const groupOf = (id: string) => props.joint.groups.find((group) => group.fasteners.some((of) => of.id === id))!
/** A name that is free: the next number, with what stands before it. */
function nextName(like: string, taken: Set<string>): string {
  const [, head = '', number = '0'] = /^(.*?)(\d*)$/.exec(like) ?? []
  for (let n = Number(number) + 1; ; n++) if (!taken.has(head + n)) return head + n
}
function more(places: { like: string; at: [number, number] }[]) {
  const taken = new Set(all.value.map((of) => of.id))
  const counts = new Map<string, number>()
  const edits = places.map(({ like, at }) => {
    const group = groupOf(like)
    const id = nextName(like, taken)
    taken.add(id)
    const written = group.fasteners.filter((of) => of.path).length + (counts.get(group.path) ?? 0)
    counts.set(group.path, (counts.get(group.path) ?? 0) + 1)
    return set(`${group.path}.position[${written}]`, { id, at: at.map(round) })
  })
  return give(edits)
}
const chosen = computed(() => all.value.filter((of) => selected.value.includes(of.id)))
const mirror = (across: 'x' | 'y') =>
  more(
    chosen.value.map((of) => ({
      like: of.id,
      at: across === 'y' ? [of.x_mm, -of.y_mm] : [2 * middle.value - of.x_mm, of.y_mm],
    })),
  )
const step = ref(unitOf('length') === 'in' ? '4, 0' : '100, 0')
const times = ref(1)
function repeat() {
  const [dx = NaN, dy = 0] = step.value
    .split(/[,;]\s*/)
    .map(Number)
    .map(inMm)
  if (!Number.isFinite(dx) || !Number.isFinite(dy))
    return void (error.value = t('plans-spacing-two-figures-in-unit', { unit: unit.value }))
  return more(
    chosen.value.flatMap((of) =>
      Array.from({ length: times.value }, (_, n) => ({
        like: of.id,
        at: [of.x_mm + dx * (n + 1), of.y_mm + dy * (n + 1)] as [number, number],
      })),
    ),
  )
}
function takeOut() {
  const paths = chosen.value.filter((of) => of.path).map((of) => of.path!)
  // From the last to the first: places of a list move up.
  const number = (path: string) => Number(/\[(\d+)\]$/.exec(path)?.[1])
  selected.value = []
  return give(paths.sort((a, b) => number(b) - number(a)).map((path) => ({ type: 'remove', path })))
}
/** What is selected goes to another group, or into a new one, which is then named. */
async function regroup(choice: HTMLSelectElement) {
  const to = choice.value
  choice.value = ''
  if (!to) return
  const group = to === '+' ? t('plans-new-group') : to
  const known = new Set(props.joint.groups.map((of) => of.path))
  if (await give([{ type: 'regroup', joint: props.joint.path, fasteners: selected.value, group }])) return
  const added = props.joint.groups.find((of) => !known.has(of.path))
  selected.value = []
  if (added) editGroup(added.path, added.name)
}
const outlined = () => give([{ type: 'draw-outline', joint: props.joint.path }])
/** A table of it that is edited as a whole. */
const form = ref<{ table: string; path?: string; list?: string; title: string; begun?: Record<string, unknown> }>()
const editGroup = (path: string, title: string) => (form.value = { table: 'joint.group', path, title })
const editStage = (path: string, title: string) => (form.value = { table: 'joint.stage', path, title })
function editManual(id: string, name: string) {
  const path = props.page.tables.find((of) => of.list === 'manual' && of.id === id)?.path
  if (path) form.value = { table: 'manual', path, title: name }
}
/** Stages as they are written out, each with its place in the list. */
const written = computed(() => {
  const named = new Map<number, string>()
  for (const stage of props.joint.stages) {
    const at = /^joint\[\d+\]\.stage\[(\d+)\]/.exec(stage.path)?.[1]
    if (at && !named.has(Number(at))) named.set(Number(at), stage.name)
  }
  return [...named].sort(([a], [b]) => a - b)
})
/** How many of them come before one that is added. */
const before = ref(0)
function addStage() {
  before.value = written.value.length
  form.value = { table: 'joint.stage', list: `${props.joint.path}.stage`, title: t('plans-add-stage') }
}
/** It is added behind all others and goes up to its place. */
function stageEdits(fields: Record<string, unknown>): Edit[] {
  const list = `${props.joint.path}.stage`
  const last = written.value.length
  const up = Array.from({ length: last - before.value }, (_, moved): Edit => ({
    type: 'shift',
    path: `${list}[${last - moved}]`,
    up: true,
  }))
  return [{ type: 'append', list, fields }, ...up]
}
const addGroup = () =>
  (form.value = {
    table: 'joint.group',
    list: `${props.joint.path}.group`,
    title: t('plans-add-group'),
    begun: { position: [{}] },
  })
const writeOut = () => give([{ type: 'write-out', joint: props.joint.path }])
const keepLine = (line: string) => give([{ type: 'procedure', joint: props.joint.path, line }])
</script>

<template>
  <section class="break-inside-avoid border-t-2 border-ink pt-3" :data-test="`joint-${joint.id}`">
    <div class="flex flex-wrap items-baseline gap-x-4">
      <h3 class="text-2xl font-semibold">
        <KeptField
          v-if="change"
          class="line-field max-w-full"
          :value="joint.name"
          :aria-label="t('plans-name-of', { joint: joint.name })"
          :keep="kept(`${joint.path}.name`)"
        />
        <template v-else>{{ joint.name }}</template>
      </h3>
      <span v-if="joint.members.length > 1" class="text-dim">{{
        t('plans-alike', { count: joint.members.length })
      }}</span>
      <button
        v-if="change"
        class="quiet-key min-h-11"
        :data-test="`take-out-${joint.id}`"
        @click="give([{ type: 'take-out', path: joint.path }])"
      >
        {{ t('common-remove') }}
      </button>
      <button
        v-if="change"
        class="quiet-key min-h-11"
        :data-test="`edit-${joint.id}`"
        @click="form = { table: 'joint', path: joint.path, title: joint.name }"
      >
        {{ t('plans-edit-all') }}
      </button>
      <KeepPiece v-if="draft" :draft="draft" :path="joint.path" :what="joint.name" />
    </div>
    <div class="mt-2 grid gap-x-8 gap-y-3 lg:grid-cols-2 print:grid-cols-2 [&>*]:min-w-0">
      <div class="min-w-0">
        <PartDrawing
          :drawing="joint.drawing"
          :groups="joint.groups"
          :movable="!!change"
          :selected="selected"
          :grid="inMm(grids[grid]!)"
          @move="move"
          @select="selected = $event"
        />
        <div v-if="change" class="no-print mt-2 flex flex-wrap items-end gap-x-4 gap-y-2" data-test="places">
          <label class="label-text"
            >{{ t('plans-grid-in', { unit }) }}
            <select v-model="grid" class="line-field">
              <option v-for="(size, at) in grids" :key="size" :value="at">{{ size }}</option>
            </select></label
          >
          <template v-if="one">
            <label class="label-text"
              >{{ t('common-name') }}
              <KeptField class="line-field w-16" :value="one.id" :disabled="!one.path" :keep="kept(`${one.path}.id`)"
            /></label>
            <label class="label-text"
              >{{ t('plans-along') }}
              <KeptField
                class="line-field w-20"
                inputmode="decimal"
                :value="shown(one.x_mm)"
                :disabled="!one.path"
                name="along"
                :keep="(text) => place(text, (to, _, y) => [to, y])"
            /></label>
            <label class="label-text"
              >{{ t('plans-across') }}
              <KeptField
                class="line-field w-20"
                inputmode="decimal"
                :value="shown(one.y_mm)"
                :disabled="!one.path"
                name="across"
                :keep="(text) => place(text, (to, x) => [x, to])"
            /></label>
          </template>
          <template v-if="selected.length">
            <button class="quiet-key min-h-11" @click="mirror('y')">{{ t('plans-mirror-left-right') }}</button>
            <button class="quiet-key min-h-11" @click="mirror('x')">{{ t('plans-mirror-end-to-end') }}</button>
            <label class="label-text"
              >{{ t('plans-repeat') }}
              <input v-model.number="times" type="number" min="1" max="50" class="line-field w-14" />
              {{ t('plans-by') }}
              <input v-model="step" class="line-field w-24" :aria-label="t('plans-spacing-in', { unit })"
            /></label>
            <button class="quiet-key min-h-11" @click="repeat">{{ t('plans-repeat') }}</button>
            <label class="label-text"
              >{{ t('plans-to-group') }}
              <select class="line-field" name="to-group" @change="regroup($event.target as HTMLSelectElement)">
                <option value="">{{ t('plans-choose') }}</option>
                <option v-for="group in joint.groups" :key="group.id" :value="group.id">{{ group.name }}</option>
                <option value="+">{{ t('plans-new-group') }}</option>
              </select></label
            >
            <button class="quiet-key min-h-11" @click="takeOut">{{ t('common-remove') }}</button>
          </template>
          <button v-if="!selected.length" class="quiet-key min-h-11" @click="outlined">
            {{ t('plans-draw-outline-around-them') }}
          </button>
          <span v-if="!selected.length" class="text-dim">{{ t('plans-tap-a-fastener-then-drag-it') }}</span>
        </div>
        <ManualPages :joint="joint" :change="change && give" @edit="editManual" />
      </div>
      <div class="min-w-0">
        <ul class="grid gap-1">
          <li v-for="group in joint.groups" :key="group.id" class="flex flex-wrap items-baseline gap-x-2">
            <span class="font-semibold"
              >{{ group.fasteners.length }} {{ group.name
              }}<template v-if="joint.groups.length > 1 && group.id !== group.name"> ({{ group.id }})</template></span
            >
            <template v-if="change">
              <select
                class="line-field"
                :value="group.fastener"
                :aria-label="t('plans-fastener-of', { group: group.name })"
                @change="put(`${group.path}.fastener`)($event)"
              >
                <option v-for="of in page.fasteners" :key="of.id" :value="of.id">{{ of.name }}, {{ of.thread }}</option>
              </select>
              <select
                class="line-field"
                :value="group.pattern"
                :aria-label="t('plans-order-of', { group: group.name })"
                @change="put(`${group.path}.pattern`)($event)"
              >
                <option v-for="(name, key) in patterns" :key="key" :value="key">{{ name }}</option>
              </select>
              <button
                class="quiet-key min-h-11"
                :aria-label="t('plans-edit-2', { name: group.name })"
                :data-test="`edit-${joint.id}-${group.id}`"
                @click="editGroup(group.path, group.name)"
              >
                {{ t('plans-edit') }}
              </button>
            </template>
            <span v-else class="text-dim">{{ group.title }}, {{ patterns[group.pattern] }}</span>
            <AssumedMark
              :assumptions="page.assumptions"
              :path="group.path"
              :fields="['position', 'pattern']"
              :change="change && give"
            />
          </li>
        </ul>
        <button v-if="change" class="quiet-key min-h-11" :data-test="`add-group-${joint.id}`" @click="addGroup">
          {{ t('plans-add-group') }}
        </button>
        <ProcedureField v-if="change && draft" class="mt-3" :draft="draft" :joint="joint" :keep="keepLine" />
        <p v-else-if="joint.procedure" class="mt-2 text-xl" data-test="line">{{ joint.procedure }}</p>
        <p v-if="joint.source" class="mt-1 text-dim">{{ t('plans-source', { source: joint.source }) }}</p>
      </div>
    </div>
    <p v-if="error" class="mt-2 font-semibold text-wrong" role="alert">{{ error }}</p>
    <div class="no-print mt-2 flex flex-wrap items-center gap-x-6">
      <RouterLink
        v-if="plan && joint.sheet.length"
        class="quiet-key flex min-h-11 items-center"
        :to="`/plans/${plan}/joints/${joint.id}`"
        >{{ t('plans-loads-and-margins') }}</RouterLink
      >
      <button v-if="change" class="quiet-key min-h-11" :data-test="`running-${joint.id}`" @click="running = true">
        {{ Object.keys(joint.running).length ? t('plans-change-running-loads') : t('plans-add-running-loads') }}
      </button>
      <button
        v-if="change && joint.sheet.length"
        class="quiet-key min-h-11"
        :aria-expanded="loads"
        @click="loads = !loads"
      >
        {{ loads ? t('plans-hide-loads-and-margins') : t('plans-loads-and-margins') }}
      </button>
    </div>
    <JointLoads v-if="loads" :sheet="joint.sheet" />
    <RunningDialog v-if="running && change" :joint="joint" :change="change" @close="running = false" />
    <StageTable
      class="mt-3"
      :stages="joint.stages"
      :change="change && ((path: string, text: string) => give([set(path, text)]))"
      @edit="editStage"
    />
    <div v-if="change" class="no-print flex flex-wrap gap-x-6">
      <button
        v-if="joint.in_one_line || joint.stages.some((stage) => stage.path.endsWith('.procedure'))"
        class="quiet-key min-h-11"
        :data-test="`write-out-${joint.id}`"
        @click="writeOut"
      >
        {{ t('plans-edit-stage-by-stage') }}
      </button>
      <button v-else class="quiet-key min-h-11" :data-test="`add-stage-${joint.id}`" @click="addStage">
        {{ t('plans-add-stage') }}
      </button>
    </div>
    <TableDialog
      v-if="form && change && draft"
      :key="form.path ?? form.list"
      :draft="draft"
      :page="page"
      :table="form.table"
      :path="form.path"
      :list="form.list"
      :begun="form.begun"
      :add="form.table === 'joint.stage' && !form.path ? stageEdits : undefined"
      :placed="form.table === 'joint.stage' && !form.path ? `${joint.path}.stage[${before}]` : undefined"
      :title="form.title"
      :faults="faults"
      :removal="['joint', 'manual'].includes(form.table) ? 'take-out' : 'remove'"
      :change="change"
      @close="form = undefined"
    >
      <template #before>
        <label v-if="form.table === 'joint.stage' && !form.path && written.length">
          <span class="label-text">{{ t('plans-where') }}</span>
          <select v-model.number="before" class="field mt-1" name="stage-before">
            <option v-for="([, name], at) in written" :key="at" :value="at">
              {{ t('plans-before-name', { name }) }}
            </option>
            <option :value="written.length">{{ t('plans-last') }}</option>
          </select>
        </label>
      </template>
    </TableDialog>
  </section>
</template>
