// What a bolt and the parts under it are, as a form holds them and as a plan writes them.
import { withResilienceUnit, withUnit } from './written'
import { t } from './texts'

/** A part under the head; the first lies under it. */
export interface LayerForm {
  name: string
  thickness: string
  /** A material's key, or empty where only its modulus is written. */
  material: string
  /** Its modulus, where the plan gives one: it counts before that of the material. */
  modulus: string
}

export interface ElasticForm {
  /** Where the bolt's resilience is from. */
  bolt: 'unknown' | 'lengths' | 'measured'
  head: string
  end: string
  material: string
  /** Its modulus, where the plan gives one beside its material. */
  modulus: string
  /** What the tapped hole or the nut is of; empty where the groups of fasteners say it. */
  endMaterial: string
  segments: { length: string; diameter: string }[]
  boltResilience: string
  parts: 'unknown' | 'layers' | 'measured'
  layers: LayerForm[]
  partsResilience: string
  bearingOd: string
  hole: string
  outer: string
  pressureLimit: string
  washerOuter: string
  washerThickness: string
}

export const MATERIALS: [key: string, name: string][] = [
  ['steel', 'steel'],
  ['grey-iron', t('plans-grey-iron')],
  ['spheroidal-iron', t('plans-spheroidal-iron')],
  ['aluminium', t('plans-cast-aluminium')],
  ['wrought-aluminium', t('plans-wrought-aluminium')],
  ['magnesium', 'magnesium'],
  ['titanium', 'titanium'],
]
/** Older plans say it so. */
const material = (key: string) => (key === 'cast-iron' ? 'grey-iron' : key)

type Written = Record<string, string>
/** How many tables of a list are written: `bolt.segment[0].length` is the first of one. */
function rows(written: Written, list: string): number {
  const places = Object.keys(written).flatMap((key) =>
    key.startsWith(`${list}[`) ? [Number.parseInt(key.slice(list.length + 1), 10)] : [],
  )
  return Math.max(-1, ...places) + 1
}

/** The form of what a plan says. */
export function elasticForm(written: Written): ElasticForm {
  const w = (key: string) => written[key] ?? ''
  const segments = Array.from({ length: rows(written, 'bolt.segment') }, (_, at) => ({
    length: w(`bolt.segment[${at}].length`),
    diameter: w(`bolt.segment[${at}].diameter`),
  }))
  const layers = Array.from({ length: rows(written, 'parts.layer') }, (_, at) => {
    const of = (key: string) => w(`parts.layer[${at}].${key}`)
    return {
      name: of('name'),
      thickness: of('thickness'),
      material: material(of('material')),
      modulus: of('modulus'),
    }
  })
  if (!layers.length && w('parts.clamp_length'))
    layers.push({
      name: '',
      thickness: w('parts.clamp_length'),
      material: material(w('parts.material')),
      modulus: w('parts.modulus'),
    })
  return {
    bolt: w('bolt.resilience') ? 'measured' : segments.length ? 'lengths' : 'unknown',
    head: w('bolt.head') || 'hex',
    end: w('bolt.end') || 'tapped',
    material: material(w('bolt.material')) || 'steel',
    modulus: w('bolt.modulus'),
    endMaterial: material(w('bolt.end_material')),
    segments: segments.length
      ? segments
      : [
          { length: '', diameter: '' },
          { length: '', diameter: 'thread' },
        ],
    boltResilience: w('bolt.resilience'),
    parts: w('parts.resilience') ? 'measured' : layers.length ? 'layers' : 'unknown',
    layers: layers.length ? layers : [{ name: '', thickness: '', material: 'steel', modulus: '' }],
    partsResilience: w('parts.resilience'),
    bearingOd: w('parts.bearing_od'),
    hole: w('parts.hole'),
    outer: w('parts.outer'),
    pressureLimit: w('parts.pressure_limit'),
    washerOuter: w('parts.washer.outer'),
    washerThickness: w('parts.washer.thickness'),
  }
}

/** A table without what is empty. */
const filled = (of: Record<string, unknown>) =>
  Object.fromEntries(Object.entries(of).filter(([, value]) => value !== ''))
const length = (text: string) => (text.trim() ? withUnit(text, 'length') : '')
function bolt(form: ElasticForm): Record<string, unknown> | undefined {
  if (form.bolt === 'unknown') return undefined
  const segments = form.segments.filter((of) => of.length.trim())
  const drawn = segments.map((of) => ({
    length: length(of.length),
    diameter: of.diameter.trim() === 'thread' ? 'thread' : length(of.diameter),
  }))
  return filled({
    head: form.head,
    end: form.end,
    material: form.material === 'steel' ? '' : form.material,
    modulus: form.modulus,
    end_material: form.endMaterial,
    resilience: form.bolt === 'measured' ? withResilienceUnit(form.boltResilience) : '',
    segment: form.bolt === 'measured' && !drawn.length ? '' : drawn,
  })
}

function parts(form: ElasticForm): Record<string, unknown> | undefined {
  const measured = form.parts === 'measured'
  if (form.parts === 'unknown') return undefined
  const layers = form.layers.filter((of) => of.thickness.trim() || !measured)
  const layer = (of: LayerForm) =>
    filled({ name: of.name.trim(), thickness: length(of.thickness), material: of.material, modulus: of.modulus })
  const washer =
    form.washerOuter.trim() || form.washerThickness.trim()
      ? { outer: length(form.washerOuter), thickness: length(form.washerThickness) }
      : ''
  return filled({
    resilience: measured ? withResilienceUnit(form.partsResilience) : '',
    bearing_od: length(form.bearingOd),
    hole: length(form.hole),
    outer: length(form.outer),
    kind: form.end === 'tapped' ? 'tapped' : 'through',
    pressure_limit: form.pressureLimit.trim() ? withUnit(form.pressureLimit, 'pressure') : '',
    washer,
    // One part without a name is written in one line.
    ...(layers.length === 1 && !layers[0]!.name.trim()
      ? {
          clamp_length: length(layers[0]!.thickness),
          ...filled({ material: layers[0]!.material, modulus: layers[0]!.modulus }),
        }
      : layers.length
        ? { layer: layers.map(layer) }
        : {}),
  })
}

/** The tables `bolt` and `parts` as a plan has them; what is not known is left out. */
export function elasticFields(form: ElasticForm): [string, unknown][] {
  const tables: [string, unknown][] = [
    ['bolt', bolt(form)],
    ['parts', parts(form)],
  ]
  return tables.filter(([, table]) => table !== undefined)
}

/** Whether it says the same: then the text of the plan stays as it is. */
export function isUnchanged(form: ElasticForm, written: Written): boolean {
  return JSON.stringify(form) === JSON.stringify(elasticForm(written))
}
