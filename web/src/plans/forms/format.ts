// The plan format as the core describes it: forms are made from it, and know no key of a plan themselves.
import { useQuery } from '@tanstack/vue-query'
import { computed, type InjectionKey } from 'vue'
import { api, take, type Schemas } from '../../api/client'
import { baseUnitOf, convert, unitOf } from '../../ui/units'
import { t } from '../texts'
import { withUnit } from '../written'

export type FormatTable = Schemas['FormatTable']
export type FormatField = Schemas['FormatField']
type Dimension = Schemas['Dimension']
/** What a table says, as the core gives and takes it. */
export type Fields = Record<string, unknown>

/** What a form knows of the plan around its table. */
export interface FormContext {
  page: Schemas['PlanPage']
  /** Where the table stands or will stand: `joint[3].stage[1]`. */
  path: string
  /** What the whole table of the dialog says just now. */
  fields: Fields
  /** What is wrong, by path inside the table: `group[0].fastener`. */
  errors: Record<string, string>
  /** The tables of the format, by id. */
  tables: Map<string, FormatTable>
}
export const formContext: InjectionKey<FormContext> = Symbol('form')

export function usePlanFormat() {
  const { data, error } = useQuery({
    queryKey: ['plan-format'],
    queryFn: async () => take(await api.GET('/api/plan-format')),
    staleTime: Infinity,
  })
  const tables = computed(() => new Map(data.value?.map((table) => [table.id, table]) ?? []))
  return { tables, error }
}

export const isSaid = (value: unknown) => value !== undefined && value !== null && value !== ''

/** Whether a field is asked for, by what the table says already. */
export function isAsked(field: FormatField, fields: Fields): boolean {
  if (field.with.length && !field.with.some((key) => isSaid(fields[key]))) return false
  return !field.of || field.of.values.includes(String(fields[field.of.key] ?? ''))
}

/** The field of a table that one of several holds, such as the way of a stage. */
export const chosenOf = (table: FormatTable, fields: Fields) => table.one_of.find((key) => isSaid(fields[key]))

/** What a field is called, with the unit that it is shown in; a label that names mm names the unit of lengths. */
export function labelOf(field: FormatField): string {
  const { kind, label } = field
  if (kind.type === 'place' || kind.type === 'places') return label.replace(/\bmm\b/, unitOf('length'))
  const unit = 'dimension' in kind ? unitOf(kind.dimension) : ''
  return unit ? t('plans-with-unit', { label, unit }) : label
}

/** Whether a field is more than one line. */
export const isLarge = (field: FormatField) =>
  ['table', 'tables', 'places', 'texts', 'words', 'windows', 'order', 'references', 'stages'].includes(field.kind.type)

const trimmed = (value: number) => String(Math.round(value * 10000) / 10000)

/** One figure as it is shown in a field: a bare one with the unit that it is in. */
export const figureText = (value: unknown, dimension: Dimension) =>
  typeof value === 'number' ? `${trimmed(value)} ${baseUnitOf(dimension)}`.trim() : String(value ?? '')

/** A place in mm as it is shown: in the unit of lengths that was chosen. */
export const placeText = (value: unknown) =>
  Array.isArray(value) ? value.map((mm) => trimmed(convert(Number(mm), 'mm', unitOf('length')))).join(', ') : ''

/** A place as it is typed: two numbers; `undefined` where they are none. */
export function placeOf(text: string): number[] | undefined {
  const numbers = text
    .split(/[;,\s]+/)
    .filter(Boolean)
    .map(Number)
  if (numbers.length !== 2 || !numbers.every(Number.isFinite)) return undefined
  return numbers.map((value) => Math.round(convert(value, unitOf('length'), 'mm') * 1000) / 1000)
}

const lines = (text: string) =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
const numbers = (text: string) =>
  text
    .split(/[;\s]+|,\s+/)
    .filter(Boolean)
    .map((of) => (Number.isFinite(Number(of)) ? Number(of) : of))

/** What a field says, as text. */
export function textOf(field: FormatField, value: unknown): string {
  if (!isSaid(value)) return ''
  const { kind } = field
  const list = Array.isArray(value) ? value : [value]
  switch (kind.type) {
    case 'quantity':
    case 'size':
    case 'tolerance':
      return figureText(value, kind.dimension)
    case 'quantities':
      return list.map((of) => figureText(of, kind.dimension)).join('; ')
    case 'numbers':
      return list.join('; ')
    case 'texts':
      return list.join('\n')
    case 'place':
      return placeText(value)
    case 'places':
      return list.map(placeText).join('\n')
    default:
      return String(value)
  }
}

/** What a field says that is typed; `undefined` where it is empty. */
export function valueOf(field: FormatField, text: string): unknown {
  const said = text.trim()
  if (!said) return undefined
  const { kind } = field
  switch (kind.type) {
    case 'whole':
    case 'number':
      return Number.isFinite(Number(said.replace(',', '.'))) ? Number(said.replace(',', '.')) : said
    case 'quantity':
    case 'size':
      return withUnit(said, kind.dimension)
    case 'tolerance':
      return said.endsWith('%') ? said : withUnit(said, kind.dimension)
    case 'quantities':
      // A unit that is given once is that of all of them: the core puts it to each.
      return withUnit(said, kind.dimension)
        .split(/;|,\s|\sto\s|–/)
        .map((of) => of.trim())
    case 'numbers':
      return numbers(said)
    case 'texts':
      return lines(text)
    case 'place':
      return placeOf(said) ?? said
    case 'places':
      return lines(text).map((line) => placeOf(line) ?? line)
    default:
      return said
  }
}

/** A table without what is empty, with what is inside of it. */
export function said(fields: Fields): Fields {
  const of = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(of)
    return value && typeof value === 'object' ? said(value as Fields) : value
  }
  return Object.fromEntries(
    Object.entries(fields)
      .filter(([, value]) => isSaid(value) && !(Array.isArray(value) && !value.length))
      .map(([key, value]) => [key, of(value)]),
  )
}
