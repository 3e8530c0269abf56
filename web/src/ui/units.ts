// Showing figures in the unit a person chose, with the factors the server hands out.
import { ref } from 'vue'
import type { components } from '../api/schema'
import { clearanceUnit, lengthUnit, torqueUnit } from './preferences'
import { t } from './texts'

type Schemas = components['schemas']
type Unit = Schemas['Unit']
const units = ref<Unit[]>([])

/** Takes the units that the server hands out. */
export function setUnits(all: Unit[]) {
  units.value = all
}

/** A unit by its symbol. */
export const unitOfSymbol = (symbol: string) => find(symbol)

function find(symbol: string): Unit | undefined {
  return units.value.find((unit) => unit.symbol === symbol)
}

/** What does not count in how a unit is spelled: the server's spellings are without it. */
const BETWEEN = /[\s.·⋅*‑-]/g

/** The unit that is meant by a text, as people spell it; of these dimensions. */
export function unitSpelled(text: string, of: Dimension[]): Unit | undefined {
  const key = text.toLowerCase().replace(BETWEEN, '')
  return units.value.find((unit) => of.includes(unit.dimension) && unit.spellings.includes(key))
}

/** A figure in one unit as one in another. */
export function convert(value: number, from: string, to: string): number {
  const [a, b] = [find(from), find(to)]
  return a && b ? (value * a.factor + a.offset - b.offset) / b.factor : value
}

type Dimension = Schemas['Dimension']

/** What the units of a dimension measure: small lengths have the units of every length. */
const family = (dimension: Dimension): Dimension => (dimension === 'clearance' ? 'length' : dimension)

/** Whether a length is measured: a size or a small one. */
export const isLength = (dimension: Dimension) => family(dimension) === 'length'

export const unitsOf = (dimension: Dimension) => units.value.filter((unit) => unit.dimension === family(dimension))

/** The unit that figures of each dimension are shown in here, where a person chose one. */
function chosen(dimension: Dimension): Unit | undefined {
  // Who thinks in pounds-feet thinks in pounds.
  const pounds = torqueUnit.value.startsWith('lbf')
  const symbol: Partial<Record<Dimension, string>> = {
    torque: torqueUnit.value,
    length: lengthUnit.value,
    clearance: clearanceUnit.value,
    force: pounds ? 'lbf' : 'kN',
    pressure: pounds ? 'ksi' : 'MPa',
  }
  const unit = symbol[dimension] ? find(symbol[dimension]) : undefined
  return unit ?? base(dimension)
}

const base = (dimension: Dimension) => unitsOf(dimension).find((unit) => unit.factor === 1 && !unit.offset)

/** The unit that bare numbers of a dimension are in, as plans and records have them. */
export const baseUnitOf = (dimension: Dimension) => base(dimension)?.symbol ?? ''

/** The unit of a symbol, where a scale has one of its own; else the one that was chosen. */
const shown = (dimension: Dimension, symbol?: string | null) => (symbol ? find(symbol) : undefined) ?? chosen(dimension)

/** The symbol that figures of a dimension are shown with. */
export const unitOf = (dimension: Dimension) => chosen(dimension)?.symbol ?? ''

/**
 * Digits of a value: halves are rounded away from zero, also where a conversion left them a hair below, as the core
 * does. Nothing is minus zero.
 */
function rounded(value: number, decimals: number): string {
  const text = (value + Math.sign(value) * 1e-6 * 10 ** -decimals).toFixed(decimals)
  return Number(text) === 0 ? text.replace('-', '') : text
}

/** With the decimals of its unit, and up to so many more where the value has them. */
function finer(value: number, decimals: number, more: number): string {
  for (let at = more; at > 0; at--) {
    const text = rounded(value, decimals + at)
    if (!text.endsWith('0')) return text
  }
  return rounded(value, decimals)
}

/** A figure in its base unit as digits in the unit it is shown in, without the symbol. */
export function digits(value: number, dimension: Dimension, symbol?: string | null): string {
  const unit = shown(dimension, symbol)
  if (!unit) return String(value)
  const there = (value - unit.offset) / unit.factor
  // Angles are whole degrees unless somebody read them finer.
  const fine = dimension === 'angle' && Math.abs(there - Math.round(there)) > 0.04 ? 1 : unit.decimals
  return rounded(there, fine)
}

/** A length to no more than anybody can see: whole millimetres, tenths of an inch. */
export function roughly(mm: number): string {
  const inches = ['in', 'thou'].includes(lengthUnit.value)
  return inches ? `${(mm / 25.4).toFixed(1)} in` : `${Math.round(mm)} mm`
}

// A figure and its unit stay on one line.
const withSymbol = (text: string, symbol: string) => text + (symbol === '°' || !symbol ? symbol : `\u00a0${symbol}`)

/** A figure in its base unit, with the symbol of the unit it is shown in. */
export const figure = (value: number, dimension: Dimension, scale?: string | null) =>
  withSymbol(digits(value, dimension, scale), shown(dimension, scale)?.symbol ?? '')

/** What an instrument can tell apart or be off by: its first digit is always shown. */
export function smallFigure(value: number, dimension: Dimension): string {
  const unit = shown(dimension)
  if (!unit || !value) return figure(value, dimension)
  const there = value / unit.factor
  return withSymbol(rounded(there, Math.max(unit.decimals, Math.ceil(-Math.log10(there)))), unit.symbol)
}

/** The same without zeros behind: for what is given and not read, such as the length of an adapter. */
export const short = (value: number, dimension: Dimension) =>
  withSymbol(String(Number(digits(value, dimension))), shown(dimension)?.symbol ?? '')

/** A quantity of a message. Who reads in the unit it was written in reads it as it was written. */
function quantity(of: Schemas['Quantity']): string {
  const unit = shown(of.dimension, of.scale)
  if (!unit) return String(of.value)
  const there = (base: number) => (base - unit.offset) / unit.factor
  const text = (base: number) =>
    of.written === unit.symbol && !of.scale
      ? String(Number(rounded(there(base), unit.decimals + 1)))
      : finer(there(base), unit.decimals, of.more ?? 0)
  return withSymbol(
    of.to == null ? text(of.value) : t('common-to', { low: text(of.value), high: text(of.to) }),
    unit.symbol,
  )
}

export type Message = Schemas['Message']

/** What the core says, with its quantities in the units that were chosen here. */
export function say(message: Message | null | undefined): string {
  if (!message || typeof message === 'string') return message ?? ''
  return message.map((piece) => (typeof piece === 'string' ? piece : quantity(piece))).join('')
}

/** The same as the beginning of a sentence. */
export function sentence(message: Message | null | undefined): string {
  const text = say(message)
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** A day and time of day, as people here write it: for lists. */
export function when(iso: string | null | undefined): string {
  if (!iso) return ''
  return new Date(iso).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })
}

/** A day and time of day as the record has it, the same for every reader: UTC, to the minute. */
export function dated(iso: string | null | undefined): string {
  return iso ? new Date(iso).toISOString().slice(0, 16).replace('T', ' ') : ''
}

/** A day given as `YYYY-MM-DD`. */
export function day(iso: string): string {
  const [year, month, date] = iso.split('-').map(Number)
  return new Date(year!, month! - 1, date).toLocaleDateString(undefined, { dateStyle: 'medium' })
}
