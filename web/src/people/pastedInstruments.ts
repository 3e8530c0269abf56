// Instruments as they stand in a spreadsheet: one in a row, columns by their headings or in the usual order.
import Papa from 'papaparse'
import type { Schemas } from '../api/client'
import { unitSpelled } from '../ui/units'

type Instrument = Schemas['Instrument']

/** The columns that are read, in the order that they have without headings. */
export const COLUMNS = [
  'Name',
  'Kind',
  'Serial',
  'From',
  'To',
  'Unit',
  'Resolution',
  'Accuracy',
  'Calibrated until',
] as const
type Column = (typeof COLUMNS)[number]

/** Words in a heading that tell which column it is. */
const HEADINGS: [Column, RegExp][] = [
  ['Calibrated until', /calib|due|valid/],
  ['Name', /name|instrument|tool|description/],
  ['Kind', /kind|type/],
  ['Serial', /serial|number|\bno\.?$|\bid\b/],
  ['From', /from|min|low/],
  ['To', /^to$|max|high|capacity/],
  ['Unit', /unit/],
  ['Resolution', /resol|step|grad/],
  ['Accuracy', /accur|error|±/],
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
  const kind = cells.Kind.toLowerCase()
  const unit = unitSpelled(cells.Unit, ['torque', 'length'])
  const pulls = unit?.dimension === 'torque'
  const [low, high] = [figure(cells.From), figure(cells.To)]
  const needs: [boolean, string][] = [
    [!cells.Name, 'Name: needed'],
    [!unit, `Unit: ${cells.Unit || 'nothing'} is not known; N·m, lbf·ft, lbf·in, kgf·m, mm, in, thou or µm`],
    [low === null, 'From: a number is needed'],
    [high === null, 'To: a number is needed'],
    [low !== null && high !== null && low >= high, 'To: more than From'],
    [!!cells.Resolution && figure(cells.Resolution) === null, 'Resolution: a number is needed'],
    [!!cells.Accuracy && figure(cells.Accuracy) === null, 'Accuracy: a number is needed'],
    [!!cells['Calibrated until'] && !dayOf(cells['Calibrated until']), 'Calibrated until: a day as 2027-03-31'],
  ]
  const wrong = needs.find(([is]) => is)?.[1]
  if (wrong || !unit || low === null || high === null) return { wrong: wrong ?? '' }
  // To a millionth, as far as anybody reads an instrument.
  const inBase = (value: number) => Number((value * unit.factor).toPrecision(7))
  const range = [inBase(low), inBase(high)]
  const [resolution, accuracy] = [figure(cells.Resolution) ?? 0, figure(cells.Accuracy) ?? 0]
  const instrument: Instrument = {
    id: '',
    name: cells.Name,
    serial: cells.Serial,
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
    calibration_due: dayOf(cells['Calibrated until']),
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
