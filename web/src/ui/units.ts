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

function find(symbol: string): Unit | undefined {
  return units.value.find((unit) => unit.symbol === symbol)
}

/** A torque in N·m as digits in the chosen unit, without the symbol. */
export function torque(newtonMetres: number): string {
  const unit = find(torqueUnit.value)
  return unit ? (newtonMetres / unit.factor).toFixed(unit.decimals) : newtonMetres.toFixed(1)
}

/** A figure of a stage, N·m or degrees, with its symbol. */
export function figure(value: number, angle: boolean): string {
  return angle ? `${Math.round(value)}°` : `${torque(value)} ${torqueUnit.value}`
}

/** A length in mm as digits in the chosen unit, without the symbol. */
export function length(millimetres: number): string {
  const unit = find(lengthUnit.value)
  return unit ? (millimetres / unit.factor).toFixed(unit.decimals) : millimetres.toFixed(3)
}

/** A length with its symbol. */
export const lengthText = (millimetres: number) => `${length(millimetres)} ${lengthUnit.value}`

/** A size in its base unit, mm or cm³, as digits: lengths in the chosen unit. */
export function size(value: number, dimension: Schemas['Dimension']): string {
  return dimension === 'volume' ? value.toFixed(1) : length(value)
}

/** The symbol sizes of a dimension are shown with. */
export const sizeUnit = (dimension: Schemas['Dimension']) => (dimension === 'volume' ? 'cm³' : lengthUnit.value)

/** A size with its symbol. */
export const sizeText = (value: number, dimension: Schemas['Dimension']) => `${size(value, dimension)} ${sizeUnit(dimension)}`

/** A day and time of day. */
export function when(iso: string | null | undefined): string {
  if (!iso) return ''
  return new Date(iso).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })
}

/** A day given as `YYYY-MM-DD`. */
export function day(iso: string): string {
  const [year, month, date] = iso.split('-').map(Number)
  return new Date(year!, month! - 1, date).toLocaleDateString(undefined, { dateStyle: 'medium' })
}
