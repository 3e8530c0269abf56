<script setup lang="ts">
// A plan as it is read: like a page of a good manual. A draft is changed where it stands.
import { computed, nextTick, ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import { say, unitOf } from '../ui/units'
import ErrorText from '../ui/ErrorText.vue'
import AddJoint from './AddJoint.vue'
import AssumedMark from './AssumedMark.vue'
import AssumptionList from './AssumptionList.vue'
import ErrorCount from './ErrorCount.vue'
import FastenerTable from './FastenerTable.vue'
import FastenerDialog from './FastenerDialog.vue'
import KeepPiece from './KeepPiece.vue'
import KeptField from './KeptField.vue'
import JointDocument from './JointDocument.vue'
import TableDialog from './forms/TableDialog.vue'
import LibraryDialog from './LibraryDialog.vue'
import PlanRoute from './PlanRoute.vue'
import StepDialog from './StepDialog.vue'
import ValveDialog from './ValveDialog.vue'
import type { Edit } from './useDraft'
import { withUnit } from './written'
import ScrollBox from '../ui/ScrollBox.vue'
import { t } from './texts'

const props = defineProps<{
  page: Schemas['PlanPage']
  draft?: string
  plan?: string
  /** What is wrong with a draft. */
  faults?: Schemas['Fault'][]
  /** What is to be opened in its form: where something is wrong. */
  opened?: string
  change?: (edits: Edit[], sound?: string) => Promise<string>
}>()
const error = ref('')
const library = ref(false)
const adding = ref(false)
const asTable = ref(false)
const valve = ref<Schemas['ClearancePage']>()
const step = ref<Schemas['LineRow']>()
const editing = ref<Schemas['FastenerPage'] | 'new'>()
/** A table that is edited as a whole. */
const form = ref<{ table: string; path?: string; list?: string; title: string; begun?: Record<string, unknown> }>()
/** Lists that have no place of their own on the page of a draft, with what one more begins with. */
const lists = [
  { list: 'slot', name: t('common-parts'), add: t('plans-add-part'), removal: 'take-out' },
  { list: 'size', name: t('plans-sizes'), add: t('plans-add-size'), removal: 'take-out' },
  { list: 'site', name: t('plans-measurements'), add: t('plans-add-measurement'), removal: 'take-out' },
  { list: 'adapter', name: t('plans-adapters'), add: t('plans-add-adapter'), removal: 'remove' },
  { list: 'lubricant', name: t('plans-lubricants'), add: t('plans-add-lubricant'), removal: 'remove' },
  { list: 'drawing', name: t('plans-drawings'), add: t('plans-add-drawing'), removal: 'remove' },
] as const
/** The form that a path of the plan is changed in. */
function openAt(path: string) {
  const at = /^joint\[\d+\]\.(?:stage|group)\[\d+\]|^[a-z]+\[\d+\]/.exec(path)?.[0]
  if (!at || !props.change) return
  const table = at.replace(/\[\d+\]/g, '')
  const row = props.page.tables.find((of) => of.path === at)
  const known = props.page.line.find((of) => of.path === at)
  const fastener = props.page.fasteners.find((of) => of.path === at)
  if (fastener) editing.value = fastener
  else if (known) step.value = known
  else form.value = { table, path: at, title: row?.name ?? t('plans-edit') }
}
watch(
  () => props.opened,
  (path) => path && openAt(path),
)
/** How many errors there are in the lists of a section. */
const errors = (...lists: string[]) =>
  props.faults?.filter((of) => of.severity === 'error' && lists.some((list) => of.path.startsWith(`${list}[`))).length
const rows = (list: string) => props.page.tables.filter((of) => of.list === list && of.path)
const removal = computed(() =>
  form.value?.table === 'clearance' ? 'take-out' : lists.find((of) => of.list === form.value?.table)?.removal,
)
/** A fastener with all that a plan can say of it, such as the other end of a stud. */
function allFields(path: string, title: string) {
  editing.value = undefined
  form.value = { table: 'fastener', path, title }
}
const looked = ref<Record<string, string>>({})
const set = (path: string, value: unknown): Edit => ({ type: 'set', path, value })
async function give(edits: Edit[]) {
  error.value = props.change ? await props.change(edits) : ''
  return error.value
}
const kept = (path: string) => (text: string) => give([set(path, text)])
const uses = computed(() => {
  const open = props.page.open.map((of) => /\.window\.(\w+)$/.exec(of.path)?.[1]).filter((name) => name !== undefined)
  const all = [...new Set([...props.page.clearances.flatMap((of) => of.windows.map((window) => window.name)), ...open])]
  return all.length ? all : ['street']
})
const shown = (of: Schemas['ClearancePage'], name: string) => {
  const known = of.windows.find((window) => window.name === name)
  // What is changed is shown as it is written: no figure is rounded by changing another.
  if (props.change && known) return known.written
  if (known) return say(known.words)
  return props.page.open.some((open) => open.path.startsWith(`${of.path}.window`)) ? '?' : ''
}
const lookUp = (path: string, text: string): Edit => {
  const of = props.page.clearances.find((of) => path.startsWith(`${of.path}.`))
  const open = props.page.open.find((open) => open.path === path)
  return { type: 'look-up', path, text: withUnit(text, open ? open.dimension : of?.dimension) }
}
async function fillIn(path: string, form: HTMLFormElement) {
  if (!looked.value[path]?.trim()) return
  const next = form.closest('li')?.nextElementSibling?.querySelector('input')?.name
  if (await give([lookUp(path, looked.value[path])])) return
  delete looked.value[path]
  // On to the next figure, and behind the last to the first procedure that is asked for.
  await nextTick()
  const to = next && document.getElementsByName(next)[0]
  ;(to || document.querySelector<HTMLInputElement>('[data-asked=true]'))?.focus()
}
/** Procedures are asked for at their joints, where what they do is seen. */
const asked = computed(() => props.page.open.filter((open) => !props.change || !open.path.endsWith('.procedure')))
const procedures = computed(() => props.page.open.length - asked.value.length)
const sources = computed(() =>
  [
    ...props.page.fasteners.map((of) => [of.name, of.source] as const),
    ...props.page.joints.map((of) => [of.name, of.source] as const),
    ...props.page.clearances.map((of) => [of.name, of.source] as const),
  ].filter(([, source]) => source),
)
</script>

<template>
  <div class="grid gap-8 print:block print:space-y-6 [&>*]:min-w-0">
    <section v-if="change" class="grid gap-x-6 gap-y-3 sm:grid-cols-2">
      <label
        ><span class="label-text">{{ t('common-name') }}</span
        ><KeptField class="field mt-1 text-xl" name="plan-name" :value="page.name" :keep="kept('name')"
      /></label>
      <label
        ><span class="label-text">{{ t('plans-key-the-same-in-all-versions') }}</span
        ><KeptField class="field mt-1" name="plan-id" :value="page.id" :keep="kept('id')"
      /></label>
      <label class="sm:col-span-2"
        ><span class="label-text">{{ t('common-description') }}</span
        ><KeptField class="field mt-1" name="plan-about" :value="page.about" :keep="kept('about')"
      /></label>
    </section>
    <ErrorText :text="error" />

    <section v-if="page.open.length" data-test="open-figures">
      <h2 class="text-2xl font-semibold">{{ t('plans-missing-specs') }}</h2>
      <p v-if="procedures">
        {{
          t('plans-missing-enter-them-at-the-joint', {
            procedures: procedures === 1 ? t('plans-1-procedure-is') : t('plans-procedures-are', { procedures }),
            procedures2: procedures,
          })
        }}
      </p>
      <ul class="mt-1 grid gap-x-8" :class="change && 'lg:grid-cols-2'">
        <li
          v-for="open in asked"
          :key="open.path"
          class="flex flex-wrap items-baseline gap-x-3 border-b border-rule py-1"
        >
          <span class="grow"
            ><span class="font-semibold">{{ open.what }}</span
            ><span v-if="open.note" class="text-dim">, {{ open.note }}</span
            ><span v-if="open.operations.length" class="text-dim"
              >: {{ open.operations.join(', ') }}
              {{ open.operations.length > 1 ? t('plans-wait') : t('plans-waits') }}</span
            ></span
          >
          <form
            v-if="change"
            class="flex gap-2"
            @submit.prevent="fillIn(open.path, $event.currentTarget as HTMLFormElement)"
          >
            <input
              v-model="looked[open.path]"
              class="line-field w-44"
              :aria-label="open.what"
              :name="`open-${open.path}`"
              autocomplete="off"
              :placeholder="open.path.includes('clearance[') ? t('plans-such-as-0-03-to-0') : '?'"
            /><span v-if="open.dimension" class="text-dim">{{ unitOf(open.dimension) }}</span>
            <button class="quiet-key" :aria-label="t('plans-fill-in-2', { what: open.what })">
              {{ t('plans-fill-in') }}
            </button>
          </form>
        </li>
      </ul>
    </section>

    <AssumptionList
      v-if="page.assumptions.length"
      :assumptions="page.assumptions"
      :change="change && give"
      @edit="openAt"
    />

    <section>
      <div class="flex flex-wrap items-baseline gap-x-6">
        <h2 class="text-2xl font-semibold">{{ t('plans-fasteners') }}</h2>
        <ErrorCount :count="errors('fastener', 'lubricant')" />
        <button v-if="change" class="quiet-key min-h-11" data-test="add-fastener" @click="editing = 'new'">
          {{ t('plans-add-fastener') }}
        </button>
        <button
          v-if="change"
          class="quiet-key min-h-11"
          :aria-pressed="asTable"
          data-test="as-table"
          @click="asTable = !asTable"
        >
          {{ asTable ? t('plans-close-the-table') : t('plans-edit-as-table') }}
        </button>
        <button v-if="change" class="quiet-key min-h-11" data-test="open-library" @click="library = true">
          {{ t('plans-add-from-library') }}
        </button>
      </div>
      <FastenerTable v-if="asTable && change" :page="page" :faults="faults" :change="change" @edit="editing = $event" />
      <ScrollBox v-else :label="t('plans-fasteners')">
        <table class="w-full min-w-2xl border-collapse text-left" data-test="fasteners">
          <thead>
            <tr class="label-text border-b border-ink">
              <th class="py-1 pr-3 font-normal">{{ t('common-name') }}</th>
              <th class="pr-3 font-normal">{{ t('common-thread') }}</th>
              <th class="pr-3 font-normal">{{ t('plans-strength') }}</th>
              <th class="pr-3 font-normal">{{ t('common-lubricant') }}</th>
              <th class="font-normal">{{ t('plans-used-in') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="of in page.fasteners" :key="of.id" class="border-b border-rule align-baseline">
              <td class="py-1 pr-3">
                <button
                  v-if="change"
                  class="text-left font-semibold underline underline-offset-4"
                  :data-test="`fastener-${of.id}`"
                  @click="editing = of"
                >
                  {{ of.name }}</button><b v-else>{{ of.name }}</b>
              </td>
              <td class="pr-3 whitespace-nowrap">
                {{ of.thread }}
                <AssumedMark
                  :assumptions="page.assumptions"
                  :path="of.path"
                  :fields="['thread']"
                  :change="change && give"
                />
              </td>
              <td class="pr-3">
                {{ say(of.strength) || '?' }}<template v-if="of.policy">, {{ of.policy }}</template
                ><span v-if="!of.elastic" class="text-dim"
                  >{{ ' ' }}{{ t('plans-no-forecast-of-angle-and-stretch') }}</span
                >
              </td>
              <td class="pr-3">
                {{ of.lubricant }}
                <AssumedMark
                  :assumptions="page.assumptions"
                  :path="of.path"
                  :fields="['thread_lubricant', 'bearing_lubricant']"
                  :change="change && give"
                />
              </td>
              <td class="text-dim">{{ of.joints.join(', ') || t('plans-no-joint') }}</td>
            </tr>
          </tbody>
        </table>
      </ScrollBox>
    </section>

    <section class="grid gap-6 print:block print:space-y-4 [&>*]:min-w-0">
      <div class="-mb-3 flex flex-wrap items-baseline gap-x-6 print:mb-0">
        <h2 class="text-2xl font-semibold">{{ t('plans-joints') }}</h2>
        <ErrorCount :count="errors('joint', 'drawing', 'adapter')" />
        <button v-if="change" class="quiet-key min-h-11" data-test="add-joint" @click="adding = true">
          {{ t('plans-add-joint') }}
        </button>
      </div>
      <JointDocument
        v-for="joint in page.joints"
        :key="joint.path"
        :joint="joint"
        :page="page"
        :draft="draft"
        :plan="plan"
        :faults="faults"
        :change="change"
      />
      <p v-if="!page.joints.length" class="text-dim">{{ t('plans-no-joints-yet') }}</p>
    </section>

    <section v-if="page.clearances.length || change">
      <div class="flex flex-wrap items-baseline gap-x-6">
        <h2 class="text-2xl font-semibold">{{ t('common-clearances') }}</h2>
        <ErrorCount :count="errors('clearance', 'site')" />
        <button
          v-if="change"
          class="quiet-key min-h-11"
          data-test="add-clearance"
          @click="form = { table: 'clearance', list: 'clearance', title: t('plans-add-clearance') }"
        >
          {{ t('plans-add-clearance') }}
        </button>
        <KeepPiece
          v-if="draft && page.clearances.length"
          :draft="draft"
          path="clearance"
          :what="t('common-clearances')"
        />
      </div>
      <ScrollBox :label="t('common-clearances')">
        <table class="w-full min-w-2xl border-collapse text-left" data-test="clearances">
          <thead>
            <tr class="label-text border-b border-ink">
              <th class="py-1 pr-3 font-normal">{{ t('common-clearance') }}</th>
              <th v-for="name in uses" :key="name" class="pr-3 font-normal">{{ name }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="of in page.clearances" :key="of.id" class="border-b border-rule align-baseline">
              <td class="py-1 pr-3">
                <button
                  v-if="change"
                  class="quiet-key float-right min-h-11"
                  :aria-label="t('plans-remove', { name: of.name })"
                  :data-test="`take-out-${of.id}`"
                  @click="give([{ type: 'take-out', path: of.path }])"
                >
                  {{ t('common-remove') }}</button><button
                  v-if="change"
                  class="text-left font-semibold underline underline-offset-4"
                  :data-test="`clearance-${of.id}`"
                  @click="form = { table: 'clearance', path: of.path, title: of.name }"
                >
                  {{ of.name }}</button
                ><b v-else>{{ of.name }}</b
                ><span v-if="of.members > 1" class="text-dim"> × {{ of.members }}</span
                ><span class="block text-dim">{{ of.rule }}</span
                ><button
                  v-if="change && of.series.length"
                  class="quiet-key min-h-11"
                  :data-test="`valve-${of.id}`"
                  @click="valve = of"
                >
                  {{
                    Object.keys(of.valve).length
                      ? t('plans-computed-from-lift-and-piston')
                      : t('plans-compute-from-lift-and-piston')
                  }}
                </button>
              </td>
              <td v-for="name in uses" :key="name" class="pr-3">
                <KeptField
                  v-if="change"
                  class="line-field w-56 max-w-full"
                  :value="shown(of, name)"
                  :aria-label="`${of.name}, ${name}`"
                  :name="`${of.id}-${name}`"
                  :keep="(text) => give([lookUp(`${of.path}.window.${name}`, text)])"
                />
                <template v-else>{{ shown(of, name) }}</template>
              </td>
            </tr>
          </tbody>
        </table>
      </ScrollBox>
    </section>

    <section class="grid gap-x-10 gap-y-6 print:block print:space-y-4 lg:grid-cols-[minmax(0,1fr)_18rem]">
      <div class="min-w-0">
        <h2 class="mb-2 text-2xl font-semibold">{{ t('common-build-sequence') }}</h2>
        <ErrorCount :count="errors('operation', 'slot')" />
        <p v-if="change" class="-mt-2 mb-1 text-dim">{{ t('plans-tap-a-step-to-edit-it') }}</p>
        <PlanRoute
          :line="page.line"
          :changeable="!!change"
          @change="step = $event"
          @move="(path, place) => give([{ type: 'move-step', path, place }])"
        />
        <p v-if="!page.line.length" class="text-dim">{{ t('plans-it-has-errors') }}</p>
      </div>
      <div v-if="change" class="grid content-start gap-4">
        <div v-for="of in lists" :key="of.list" :data-test="`tables-${of.list}`">
          <h2 class="text-xl font-semibold">{{ of.name }}</h2>
          <ul>
            <li v-for="row in rows(of.list)" :key="row.path">
              <button
                class="min-h-6 text-left underline underline-offset-4"
                :data-test="`table-${of.list}-${row.id}`"
                @click="form = { table: of.list, path: row.path, title: row.name }"
              >
                {{ row.count > 1 ? `${row.count} × ${row.name}` : row.name }}
              </button>
            </li>
          </ul>
          <button
            class="quiet-key min-h-11"
            :data-test="`add-${of.list}`"
            @click="form = { table: of.list, list: of.list, title: of.add }"
          >
            {{ of.add }}
          </button>
        </div>
      </div>
      <div v-else class="grid content-start gap-6 print:block print:space-y-3">
        <div v-if="page.slots.length">
          <h2 class="text-xl font-semibold">{{ t('common-parts') }}</h2>
          <p>{{ page.slots.map((of) => (of.count > 1 ? `${of.count} × ${of.name}` : of.name)).join(', ') }}</p>
        </div>
        <div v-if="page.sites.length">
          <h2 class="text-xl font-semibold">{{ t('common-measured') }}</h2>
          <p>{{ page.sites.map((of) => (of.count > 1 ? `${of.count} × ${of.name}` : of.name)).join(', ') }}</p>
        </div>
        <div v-if="sources.length">
          <h2 class="text-xl font-semibold">{{ t('plans-sources') }}</h2>
          <ul>
            <li v-for="([name, source], at) in sources" :key="at">{{ name }}: {{ source }}</li>
          </ul>
        </div>
      </div>
    </section>
    <TableDialog
      v-if="form && change"
      :key="form.path ?? form.list"
      :draft="draft!"
      :page="page"
      :table="form.table"
      :path="form.path"
      :list="form.list"
      :begun="form.begun"
      :title="form.title"
      :faults="faults"
      :removal="removal"
      :change="change"
      @close="form = undefined"
    >
      <template #actions>
        <KeepPiece
          v-if="form.path && ['lubricant', 'adapter', 'clearance'].includes(form.table)"
          :draft="draft!"
          :path="form.path"
          :what="form.title"
        />
      </template>
    </TableDialog>
    <ValveDialog v-if="valve && change" :clearance="valve" :change="change" @close="valve = undefined" />
    <StepDialog
      v-if="step && change"
      :key="step.path"
      :row="step"
      :page="page"
      :uses="uses"
      :draft="draft!"
      :faults="faults"
      :change="change"
      @close="step = undefined"
    />
    <AddJoint v-if="adding && change" :page="page" :change="change" @close="adding = false" />
    <LibraryDialog v-if="library && change" :change="change" @close="library = false" />
    <FastenerDialog
      v-if="editing && change"
      :fastener="editing"
      :faults="faults"
      :there="page.tables.filter((of) => of.list === 'lubricant' && of.path).map((of) => of.id)"
      :change="change"
      :draft="draft!"
      @close="editing = undefined"
      @all="allFields"
    />
  </div>
</template>
