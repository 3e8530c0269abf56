// Showing figures in the unit a person chose, with the factors the server hands out.
import { ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { lengthUnit, torqueUnit } from './preferences'

type Unit = Schemas['Unit']
const units = ref<Unit[]>([])

export async function loadUnits(): Promise<void> {
  units.value = take(await api.GET('/api/units'))
}

export const unitsOf = (dimension: Schemas['Dimension']) =>
  units.value.filter((unit) => unit.dimension === dimension)

/** A unit by its symbol. */
export const unitOfSymbol = (symbol: string) => find(symbol)

function find(symbol: string): Unit | undefined {
  return units.value.find((unit) => unit.symbol === symbol)
}

type Dimension = Schemas['Dimension']

/** The unit that figures of each dimension are shown in here, where a person chose one. */
function chosen(dimension: Dimension): Unit | undefined {
  const symbol = { torque: torqueUnit.value, length: lengthUnit.value } as Partial<Record<Dimension, string>>
  const unit = symbol[dimension] ? find(symbol[dimension]) : undefined
  return unit ?? units.value.find((unit) => unit.dimension === dimension && unit.factor === 1 && !unit.offset)
}

/** The unit of a symbol, where a scale has one of its own; else the one that was chosen. */
const shown = (dimension: Dimension, symbol?: string | null) => (symbol ? find(symbol) : undefined) ?? chosen(dimension)

/** The symbol that figures of a dimension are shown with. */
export const unitOf = (dimension: Dimension) => chosen(dimension)?.symbol ?? ''

/** A figure in its base unit as digits in the unit it is shown in, without the symbol. */
export function digits(value: number, dimension: Dimension, symbol?: string | null): string {
  const unit = shown(dimension, symbol)
  if (!unit) return String(value)
  const there = (value - unit.offset) / unit.factor
  // Angles are whole degrees unless somebody read them finer.
  const fine = dimension === 'angle' && Math.abs(there - Math.round(there)) > 0.04 ? 1 : unit.decimals
  return there.toFixed(fine)
}

/** A figure in its base unit, with the symbol of the unit it is shown in. */
export function figure(value: number, dimension: Dimension, scale?: string | null): string {
  const symbol = shown(dimension, scale)?.symbol ?? ''
  return digits(value, dimension, scale) + (symbol === '°' || !symbol ? symbol : ` ${symbol}`)
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
