<script setup lang="ts">
// All fasteners of a plan in one table: changed in place, pasted into from a spreadsheet, and copied to one.
import { useClipboard } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import ErrorText from '../ui/ErrorText.vue'
import ScrollBox from '../ui/ScrollBox.vue'
import { say } from '../ui/units'
import AssumedMark from './AssumedMark.vue'
import KeptField from './KeptField.vue'
import { withUnit } from './written'
import type { Change } from './useChange'
import type { Edit } from './useDraft'
import { t } from './texts'

const props = defineProps<{ page: Schemas['PlanPage']; faults?: Schemas['Fault'][]; change: Change }>()
const emit = defineEmits<{ edit: [fastener: Schemas['FastenerPage']] }>()
const columns = [
  { key: 'name', label: t('common-name'), wide: 'min-w-40' },
  { key: 'thread', label: t('common-thread'), wide: 'min-w-28' },
  { key: 'strength', label: t('plans-strength'), wide: 'min-w-24' },
  { key: 'yield', label: t('common-yield'), wide: 'min-w-24' },
  { key: 'tensile', label: t('plans-tensile'), wide: 'min-w-24' },
  { key: 'thread_lubricant', label: t('common-on-the-thread'), wide: 'min-w-36' },
  { key: 'bearing_lubricant', label: t('common-under-the-head-or-nut'), wide: 'min-w-36' },
  { key: 'source', label: t('common-source-of-the-figures'), wide: 'min-w-40' },
] as const
type Column = (typeof columns)[number]
const lubricants = computed(() => props.page.tables.filter((of) => of.list === 'lubricant'))
const isLubricant = (key: string) => key.endsWith('_lubricant')
/** What is wrong with a cell. */
const wrong = (path: string) =>
  props.faults?.filter((of) => of.path === path && of.severity === 'error').map((of) => say(of.message))[0]
const error = ref('')
/** Also where the shop is reached without TLS. */
const { copy: writeClipboard, copied } = useClipboard({ legacy: true })

/** What a cell shows: lubricants by name. */
function shown(of: Schemas['FastenerPage'], key: string): string {
  const written = of.written[key] ?? ''
  return isLubricant(key) ? (lubricants.value.find((row) => row.id === written)?.name ?? written) : written
}
/** What a cell says as a plan has it: lubricants by key, strengths with their unit. */
function written(key: string, text: string): string {
  const said = text.trim()
  if (isLubricant(key)) {
    const same = (row: { id: string; name: string }) => [row.id, row.name.toLowerCase()].includes(said.toLowerCase())
    return lubricants.value.find(same)?.id ?? said
  }
  return key === 'yield' || key === 'tensile' ? withUnit(said, 'pressure') : said
}
function cell(of: Schemas['FastenerPage'], key: string, text: string): Edit[] {
  const path = `${of.path}.${key}`
  const value = written(key, text)
  if (value) return value === of.written[key] ? [] : [{ type: 'set', path, value }]
  return key in of.written ? [{ type: 'remove', path }] : []
}
/** One who gives yield and tensile gives no class, and the other way round. */
function keep(of: Schemas['FastenerPage'], key: string, text: string) {
  const edits = cell(of, key, text)
  if (text.trim() && key === 'strength') edits.push(...cell(of, 'yield', ''), ...cell(of, 'tensile', ''))
  if (text.trim() && (key === 'yield' || key === 'tensile')) edits.push(...cell(of, 'strength', ''))
  return edits.length ? props.change(edits) : ''
}

/** Rows of a spreadsheet go into the cells from this one on; what is more are fasteners more. */
async function paste(event: ClipboardEvent, row: number, column: number) {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!/[\t\n]/.test(text.trim())) return
  event.preventDefault()
  const rows = text.replace(/\r/g, '').replace(/\n$/, '').split('\n')
  const heading = columns.map((of) => of.label.toLowerCase())
  const plain = rows.filter(
    (line) => line.trim() && !line.split('\t').every((of) => heading.includes(of.toLowerCase())),
  )
  const edits = plain.flatMap((line, at): Edit[] => {
    const cells = line
      .split('\t')
      .map((cell, place) => [columns[column + place]?.key, cell] as const)
      .filter((pair): pair is readonly [Column['key'], string] => !!pair[0])
    const of = props.page.fasteners[row + at]
    if (of) return cells.flatMap(([key, cell_]) => cell(of, key, cell_))
    const fields = Object.fromEntries(
      cells.filter(([, cell_]) => cell_.trim()).map(([key, cell_]) => [key, written(key, cell_)]),
    )
    const usual = { thread_lubricant: 'engine-oil', bearing_lubricant: 'engine-oil' }
    const known = fields.strength || fields.yield ? {} : { strength: '?' }
    return [{ type: 'append', list: 'fastener', fields: { ...usual, ...known, ...fields } }]
  })
  error.value = await props.change(edits)
}
async function copy() {
  const lines = [
    columns.map((of) => of.label),
    ...props.page.fasteners.map((of) => columns.map((column) => shown(of, column.key))),
  ]
  await writeClipboard(lines.map((line) => line.join('\t')).join('\n'))
}
</script>

<template>
  <div>
    <p class="flex flex-wrap items-center gap-x-6">
      <span class="text-dim">{{ t('plans-rows-of-a-spreadsheet-can-be') }}</span>
      <button class="quiet-key min-h-11" data-test="copy-fasteners" @click="copy">
        {{ copied ? t('plans-copied') : t('plans-copy-table') }}
      </button>
    </p>
    <datalist id="lubricants"><option v-for="of in lubricants" :key="of.id" :value="of.name" /></datalist>
    <ScrollBox :label="t('plans-fasteners')">
      <table class="w-full border-collapse text-left" data-test="fastener-table">
        <thead>
          <tr class="label-text border-b border-ink">
            <th v-for="column in columns" :key="column.key" class="py-1 pr-3 font-normal">{{ column.label }}</th>
            <td></td>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(of, row) in page.fasteners" :key="of.path" class="border-b border-rule align-baseline">
            <td v-for="(column, at) in columns" :key="column.key" class="pr-3" :class="column.wide">
              <KeptField
                class="line-field min-h-11 w-full"
                :value="shown(of, column.key)"
                :name="`${of.path}.${column.key}`"
                :aria-label="`${of.name}, ${column.label}`"
                :list="isLubricant(column.key) ? 'lubricants' : undefined"
                :keep="(text) => keep(of, column.key, text)"
                @paste="paste($event, row, at)"
              />
              <AssumedMark :assumptions="page.assumptions" :path="of.path" :fields="[column.key]" :change="change" />
              <ErrorText :text="wrong(`${of.path}.${column.key}`)" />
            </td>
            <td class="text-right">
              <button
                class="quiet-key min-h-11"
                :aria-label="t('plans-edit-2', { name: of.name })"
                @click="emit('edit', of)"
              >
                {{ t('plans-edit') }}
              </button>
            </td>
          </tr>
          <tr>
            <td>
              <input
                class="line-field min-h-11 w-full"
                name="fastener-new"
                autocomplete="off"
                value=""
                :aria-label="t('plans-add-fastener')"
                :placeholder="t('plans-paste-here')"
                @paste="paste($event, page.fasteners.length, 0)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </ScrollBox>
    <ErrorText :text="error" />
  </div>
</template>
