// Instruments as they stand in a spreadsheet: one in a row, columns by their headings or in the usual order.
import Papa from 'papaparse'
import type { Schemas } from '../api/client'
import { unitSpelled } from '../ui/units'
import { t } from './texts'

type Instrument = Schemas['Instrument']

/** The columns that are read, in the order that they have without headings. */
export const COLUMNS = ['name', 'kind', 'serial', 'from', 'to', 'unit', 'resolution', 'accuracy', 'calibrated'] as const
type Column = (typeof COLUMNS)[number]

/** What each column is headed. */
export const headings: Record<Column, string> = {
  name: t('common-name'),
  kind: t('common-kind'),
  serial: t('common-serial'),
  from: t('common-from'),
  to: t('common-to-2'),
  unit: t('people-unit'),
  resolution: t('people-resolution'),
  accuracy: t('people-accuracy'),
  calibrated: t('people-calibrated-until'),
}

/** Words in a heading that tell which column it is. */
const HEADINGS: [Column, RegExp][] = [
  ['calibrated', /calib|due|valid/],
  ['name', /name|instrument|tool|description/],
  ['kind', /kind|type/],
  ['serial', /serial|number|\bno\.?$|\bid\b/],
  ['from', /from|min|low/],
  ['to', /^to$|max|high|capacity/],
  ['unit', /unit/],
  ['resolution', /resol|step|grad/],
  ['accuracy', /accur|error|±/],
]

/** A row as it was pasted, what it is read as, and what is wrong with it. */
export interface PastedRow {
  cells: Record<Column, string>
  instrument?: Instrument
  wrong: string
}

function figure(text: string): number | null {
  const number = Number(text.replace(',', '.'))
  return text.trim() && Number.isFinite(number) ? number : null
}

/** A day as YYYY-MM-DD; null where it is not written so. */
const dayOf = (text: string) => (/^\d{4}-\d{2}-\d{2}$/.test(text) ? text : null)

/** What a row is as an instrument, or what is wrong with it. */
function read(cells: Record<Column, string>): Pick<PastedRow, 'instrument' | 'wrong'> {
  const kind = cells.kind.toLowerCase()
  const unit = unitSpelled(cells.unit, ['torque', 'length'])
  const pulls = unit?.dimension === 'torque'
  const [low, high] = [figure(cells.from), figure(cells.to)]
  const notFigure = (column: Column) => t('people-number-needed', { column: headings[column] })
  const isWrong = (column: Column) => !!cells[column] && figure(cells[column]) === null
  const needs: [boolean, string][] = [
    [!cells.name, t('people-name-needed')],
    [!unit, t('people-unit-unknown', { unit: cells.unit || '“”' })],
    [low === null, notFigure('from')],
    [high === null, notFigure('to')],
    [low !== null && high !== null && low >= high, t('people-range-reversed')],
    [isWrong('resolution'), notFigure('resolution')],
    [isWrong('accuracy'), notFigure('accuracy')],
    [!!cells.calibrated && !dayOf(cells.calibrated), t('people-day-needed')],
  ]
  const wrong = needs.find(([is]) => is)?.[1]
  if (wrong || !unit || low === null || high === null) return { wrong: wrong ?? '' }
  // To a millionth, as far as anybody reads an instrument.
  const inBase = (value: number) => Number((value * unit.factor).toPrecision(7))
  const range = [inBase(low), inBase(high)]
  const [resolution, accuracy] = [figure(cells.resolution) ?? 0, figure(cells.accuracy) ?? 0]
  const instrument: Instrument = {
    id: '',
    name: cells.name,
    serial: cells.serial,
    simulated: false,
    clicks: pulls && /click/.test(kind),
    angle: pulls && /angle/.test(kind),
    torque_nm: pulls ? range : null,
    length_mm: pulls ? null : range,
    volume_cc: null,
    driver_nm: null,
    reach_mm: null,
    scale: pulls && resolution ? { unit: unit.symbol, step: resolution } : null,
    accuracy: pulls ? accuracy : inBase(accuracy),
    resolution: pulls ? 0 : inBase(resolution),
    made_for: [],
    measures: [],
    calibration_due: dayOf(cells.calibrated),
    users: [],
    away: null,
  }
  return { instrument, wrong: '' }
}

/** Reads what was pasted, row by row; a first row that names columns says which is which. */
export function pastedInstruments(text: string): PastedRow[] {
  const lines = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy', delimitersToGuess: ['\t', ';', ','] }).data
  const first = (lines[0] ?? []).map((cell) => cell.trim())
  const named = first.map((cell) => HEADINGS.find(([, words]) => words.test(cell.toLowerCase()))?.[0])
  const hasHeadings = named.filter(Boolean).length >= 2 && !first.some((cell) => figure(cell) !== null)
  const columns: (Column | undefined)[] = hasHeadings ? named : [...COLUMNS]
  return lines.slice(hasHeadings ? 1 : 0).map((line) => {
    const at = (column: Column) => line[columns.indexOf(column)]?.trim() ?? ''
    const cells = Object.fromEntries(COLUMNS.map((column) => [column, at(column)])) as Record<Column, string>
    return { cells, ...read(cells) }
  })
}
