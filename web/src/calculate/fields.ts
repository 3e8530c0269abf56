// The fields of a calculation, as the list of calculations describes them, and what is typed into them.
import { useLocalStorage } from '@vueuse/core'
import { convert, unitOfSymbol, unitsOf } from '../ui/units'
import { t } from './texts'

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
  legend: { symbol: string; means: string }[]
  input: Field[]
  output: string[]
  example: Values
}

export type Values = { [name: string]: Value }
export type Value = string | number | boolean | Value[] | Values | undefined

/** What the end of a name tells. */
const UNITS: [end: string, unit: string][] = [
  ['_mm_per_n', 'mm/N'],
  ['_mm_per_mm', t('calculate-mm-per-mm')],
  ['_mm2', 'mm²'],
  ['_per_k', '1/K'],
  ['_rpm', 'rpm'],
  ['_kg', 'kg'],
  ['_um', 'µm'],
  ['_k', 'K'],
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

/** The unit that the calculation takes a field in. */
const own = (name: string) => end(name)?.[1] ?? ''

/** The units that somebody chose here, by what they measure. */
export const chosen = useLocalStorage<Record<string, string>>('rigore.calculation-units', {})

/** The units that a field can be given in; none where there is one only. */
export function unitsFor(name: string): { symbol: string; dimension: string }[] {
  const base = unitOfSymbol(own(name))
  const all = base ? unitsOf(base.dimension) : []
  return all.length > 1 ? all : []
}

/** The unit that a field is given in here. */
export function unit(name: string): string {
  const all = unitsFor(name)
  const wanted = all.length ? chosen.value[all[0]!.dimension] : undefined
  return all.find((of) => of.symbol === wanted)?.symbol ?? own(name)
}

/** Whether a field is given in another unit than that of the calculation. */
const isOther = (name: string) => unit(name) !== own(name)
/** A figure in the unit of the calculation as one in the unit that is used here. */
const here = (value: number, name: string) => (isOther(name) ? fine(convert(value, own(name), unit(name))) : value)

/** A figure in the unit that it is shown in here. */
const fine = (value: number) => Number(value.toPrecision(9))

/** A name in words: `bearing_diameter_mm` is a bearing diameter. */
export function words(name: string): string {
  const plain = name
    .slice(0, name.length - (end(name)?.[0].length ?? 0))
    .replace(/^mu_/, 'μ ')
    .replaceAll(/[_-]/g, ' ')
  // The Greek letter has a capital that is another letter.
  return plain.startsWith('μ') ? plain : plain.charAt(0).toUpperCase() + plain.slice(1)
}

/** A figure as it is typed; what is none goes on as it is, and is told to be wrong. */
function number(typed: string): Value {
  const figure = Number(typed.trim().replace(',', '.').replace('−', '-'))
  return Number.isFinite(figure) ? figure : typed
}

/** What was typed into a field, as the calculation takes it; nothing where nothing was typed. */
export function given(kind: Kind, typed: Value, name = ''): Value {
  if (typed === undefined || typed === '' || typeof typed === 'boolean') return typed === '' ? undefined : typed
  if (typeof kind === 'object' && 'record' in kind) return givenAll(kind.record, typed as Values)
  if (typeof kind === 'object' && 'records' in kind)
    return (typed as Values[]).map((row) => givenAll(kind.records, row))
  if (kind === 'numbers')
    return String(typed)
      .split(/[;\s]+|,\s+/)
      .filter(Boolean)
      .map((part) => withItsUnit(part, name))
  if (kind === 'text' || (typeof kind === 'object' && 'choice' in kind)) return typed
  if (typeof kind === 'object' && 'positive-or' in kind && typed === kind['positive-or']) return typed
  return withItsUnit(String(typed), name)
}

/** A figure with its unit, where it is not that of the calculation: turning it is the core's. */
function withItsUnit(text: string, name: string): Value {
  const figure = number(text)
  return typeof figure === 'number' && isOther(name) ? `${figure} ${unit(name)}` : figure
}

export const givenAll = (fields: Field[], typed: Values): Values =>
  Object.fromEntries(
    fields
      .map((field) => [field.name, given(field.kind, typed[field.name], field.name)] as const)
      .filter(([, value]) => value !== undefined),
  )

/** The same as figures in the units of the calculation, for what is drawn of them. */
export function inOwnUnits(fields: Field[], typed: Values): Values {
  const figure = (value: Value, name: string): Value => {
    if (Array.isArray(value)) return value.map((one) => figure(one, name))
    if (typeof value === 'object')
      return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, figure(one, key)]))
    const [digits, symbol] = typeof value === 'string' && own(name) ? value.split(' ') : []
    return digits && symbol && unitOfSymbol(symbol) ? convert(Number(digits), symbol, own(name)) : value
  }
  return Object.fromEntries(Object.entries(givenAll(fields, typed)).map(([key, value]) => [key, figure(value, key)]))
}

/** What stands in the fields for an input. An address may hold anything: what does not fit its field is left out. */
export function typed(kind: Kind, value: unknown, name = ''): Value {
  if (typeof kind === 'object' && 'record' in kind) return typedAll(kind.record, value)
  if (typeof kind === 'object' && 'records' in kind)
    return (Array.isArray(value) && value.length ? value : [{}]).map((row) => typedAll(kind.records, row))
  if (kind === 'flag') return value === true
  const figure = (value: unknown) => {
    if (typeof value === 'number') return name ? here(value, name) : value
    // One that was kept with its unit.
    const [, digits, symbol] = (own(name) && /^(-?[\d.]+(?:e-?\d+)?) (.+)$/.exec(String(value))) || []
    return digits && symbol && unitOfSymbol(symbol) ? fine(convert(Number(digits), symbol, unit(name))) : value
  }
  if (kind === 'numbers' && Array.isArray(value)) return value.map(figure).join(' ')
  return typeof value === 'string' || typeof value === 'number' ? String(figure(value)) : ''
}

export function typedAll(fields: Field[], values: unknown): Values {
  const of = typeof values === 'object' && values !== null ? (values as Values) : {}
  return Object.fromEntries(fields.map((field) => [field.name, typed(field.kind, of[field.name], field.name)]))
}

/** A result in words. */
export function shown(value: unknown, name = ''): string {
  if (typeof value === 'number' && name && isOther(name)) return shown(here(value, name))
  if (Array.isArray(value) && name) return value.map((one) => shown(one, name)).join(', ')
  // Two decimals are more than friction lets anybody know; lengths and small figures have more.
  if (typeof value === 'number') {
    if (Math.abs(value) < 1e-3 && value !== 0) return value.toPrecision(4)
    return String(Number(name.endsWith('_mm') || Math.abs(value) < 10 ? value.toPrecision(6) : value.toFixed(2)))
  }
  if (typeof value === 'boolean') return value ? t('calculate-yes') : t('calculate-no')
  if (Array.isArray(value)) return value.map((one) => shown(one)).join(', ')
  return String(value)
}
