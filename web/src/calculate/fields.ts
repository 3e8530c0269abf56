// The fields of a calculation, as the list of calculations describes them, and what is typed into them.

export type Kind =
  | 'positive'
  | 'text'
  | 'flag'
  | 'numbers'
  | { number: [number, number] }
  | { whole: [number, number] }
  | { choice: string[] }
  | { 'positive-or': string }
  | { record: Field[] }
  | { records: Field[] }

export interface Field {
  name: string
  kind: Kind
  optional: boolean
}

export interface Calculation {
  name: string
  about: string
  formula: string
  input: Field[]
  output: string[]
  example: Values
}

export type Values = { [name: string]: Value }
export type Value = string | number | boolean | Value[] | Values | undefined

/** What the end of a name tells. */
const UNITS: [end: string, unit: string][] = [
  ['_mm_per_n', 'mm/N'],
  ['_mm_per_mm', 'mm per mm'],
  ['_per_k', '1/K'],
  ['_nm', 'N·m'],
  ['_kn', 'kN'],
  ['_mm', 'mm'],
  ['_deg', '°'],
  ['_mpa', 'MPa'],
  ['_gpa', 'GPa'],
  ['_cc', 'cm³'],
  ['_c', '°C'],
]
const end = (name: string) => UNITS.find(([end]) => name.endsWith(end))

export const unit = (name: string) => end(name)?.[1] ?? ''

/** A name in words: `bearing_diameter_mm` is a bearing diameter. */
export function words(name: string): string {
  const plain = name.slice(0, name.length - (end(name)?.[0].length ?? 0)).replace(/^mu_/, 'µ ').replaceAll(/[_-]/g, ' ')
  return plain.charAt(0).toUpperCase() + plain.slice(1)
}

/** A figure as it is typed; what is none goes on as it is, and is told to be wrong. */
function number(typed: string): Value {
  const figure = Number(typed.trim().replace(',', '.').replace('−', '-'))
  return Number.isFinite(figure) ? figure : typed
}

/** What was typed into a field, as the calculation takes it; nothing where nothing was typed. */
export function given(kind: Kind, typed: Value): Value {
  if (typed === undefined || typed === '' || typeof typed === 'boolean') return typed === '' ? undefined : typed
  if (typeof kind === 'object' && 'record' in kind) return givenAll(kind.record, typed as Values)
  if (typeof kind === 'object' && 'records' in kind) return (typed as Values[]).map((row) => givenAll(kind.records, row))
  if (kind === 'numbers') return String(typed).split(/[;\s]+|,\s+/).filter(Boolean).map(number)
  if (kind === 'text' || (typeof kind === 'object' && 'choice' in kind)) return typed
  if (typeof kind === 'object' && 'positive-or' in kind && typed === kind['positive-or']) return typed
  return number(String(typed))
}

export const givenAll = (fields: Field[], typed: Values): Values =>
  Object.fromEntries(
    fields.map((field) => [field.name, given(field.kind, typed[field.name])] as const).filter(([, value]) => value !== undefined),
  )

/** What stands in the fields for an input. An address may hold anything: what does not fit its field is left out. */
export function typed(kind: Kind, value: unknown): Value {
  if (typeof kind === 'object' && 'record' in kind) return typedAll(kind.record, value)
  if (typeof kind === 'object' && 'records' in kind) return (Array.isArray(value) && value.length ? value : [{}]).map((row) => typedAll(kind.records, row))
  if (kind === 'flag') return value === true
  if (kind === 'numbers' && Array.isArray(value)) return value.join(' ')
  return typeof value === 'string' || typeof value === 'number' ? String(value) : ''
}

export function typedAll(fields: Field[], values: unknown): Values {
  const of = typeof values === 'object' && values !== null ? (values as Values) : {}
  return Object.fromEntries(fields.map((field) => [field.name, typed(field.kind, of[field.name])]))
}

/** A result in words. */
export function shown(value: unknown): string {
  if (typeof value === 'number') return Math.abs(value) < 1e-3 && value !== 0 ? value.toPrecision(4) : String(Number(value.toPrecision(6)))
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (Array.isArray(value)) return value.map(shown).join(', ')
  return String(value)
}
