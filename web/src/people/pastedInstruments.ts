// Instruments as they stand in a spreadsheet: one in a row, columns by their headings or in the usual order.
import Papa from 'papaparse'
import type { Schemas } from '../api/client'

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

const TORQUE: Record<string, number> = {
  'n·m': 1,
  nm: 1,
  'n.m': 1,
  'n m': 1,
  'lbf·ft': 1.3558179483,
  'ft-lb': 1.3558179483,
  'ft·lb': 1.3558179483,
  'lb-ft': 1.3558179483,
  'lbf·in': 0.112984829,
  'in-lb': 0.112984829,
  'lb-in': 0.112984829,
  'kgf·m': 9.80665,
}
const SCALES: Record<string, string> = {
  'n·m': 'N·m',
  nm: 'N·m',
  'n.m': 'N·m',
  'n m': 'N·m',
  'lbf·ft': 'lbf·ft',
  'ft-lb': 'lbf·ft',
  'ft·lb': 'lbf·ft',
  'lb-ft': 'lbf·ft',
  'lbf·in': 'lbf·in',
  'in-lb': 'lbf·in',
  'lb-in': 'lbf·in',
  'kgf·m': 'kgf·m',
}
const LENGTH: Record<string, number> = { mm: 1, in: 25.4, '"': 25.4, inch: 25.4, thou: 0.0254, µm: 0.001, um: 0.001 }

function figure(text: string): number | null {
  const number = Number(text.replace(',', '.'))
  return text.trim() && Number.isFinite(number) ? number : null
}

/** A day as YYYY-MM-DD; null where it is not written so. */
const dayOf = (text: string) => (/^\d{4}-\d{2}-\d{2}$/.test(text) ? text : null)

/** What a row is as an instrument, or what is wrong with it. */
function read(cells: Record<Column, string>): Pick<PastedRow, 'instrument' | 'wrong'> {
  const unit = cells.Unit.toLowerCase()
  const kind = cells.Kind.toLowerCase()
  const [torque, length] = [TORQUE[unit], LENGTH[unit]]
  const [low, high] = [figure(cells.From), figure(cells.To)]
  const needs: [boolean, string][] = [
    [!cells.Name, 'Name: needed'],
    [
      !torque && !length,
      `Unit: ${cells.Unit || 'nothing'} is not known; N·m, lbf·ft, lbf·in, kgf·m, mm, in, thou or µm`,
    ],
    [low === null, 'From: a number is needed'],
    [high === null, 'To: a number is needed'],
    [low !== null && high !== null && low >= high, 'To: more than From'],
    [!!cells.Resolution && figure(cells.Resolution) === null, 'Resolution: a number is needed'],
    [!!cells.Accuracy && figure(cells.Accuracy) === null, 'Accuracy: a number is needed'],
    [!!cells['Calibrated until'] && !dayOf(cells['Calibrated until']), 'Calibrated until: a day as 2027-03-31'],
  ]
  const wrong = needs.find(([is]) => is)?.[1]
  if (wrong || low === null || high === null) return { wrong: wrong ?? '' }
  const factor = torque ?? length ?? 1
  // To a millionth, as far as anybody reads an instrument.
  const inBase = (value: number) => Number((value * factor).toPrecision(7))
  const range = [inBase(low), inBase(high)]
  const [resolution, accuracy] = [figure(cells.Resolution) ?? 0, figure(cells.Accuracy) ?? 0]
  const instrument: Instrument = {
    id: '',
    name: cells.Name,
    serial: cells.Serial,
    simulated: false,
    clicks: !!torque && /click/.test(kind),
    angle: !!torque && /angle/.test(kind),
    torque_nm: torque ? range : null,
    length_mm: torque ? null : range,
    volume_cc: null,
    driver_nm: null,
    reach_mm: null,
    scale: torque && resolution ? { unit: SCALES[unit]!, step: resolution } : null,
    accuracy: torque ? accuracy : inBase(accuracy),
    resolution: torque ? 0 : inBase(resolution),
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
