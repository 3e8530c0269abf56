import type { Schemas } from '../api/client'
import { unitOf } from '../ui/units'

/** A figure or a window as it is typed; what has no unit has the one that such figures are shown in. */
export const withUnit = (text: string, dimension: Schemas['Dimension'] | null | undefined) =>
  dimension && isBare(text, dimension) ? `${text.trim()} ${unitOf(dimension)}`.trim() : text

/** A resilience as it is typed; a bare number is in µm/kN. */
export const withResilienceUnit = (text: string) =>
  /^[\d.,]+$/.test(text.trim()) ? `${text.trim()} µm/kN` : text.trim()

const WORDS =
  /\b(at least|at most|no (less|more) than|not (under|over)|or (more|less)|between|and|to|min(imum)?|max(imum)?)\b/gi

/** Whether figures have no unit: what is left besides the words of a window has no letter. Minutes are a unit. */
const isBare = (text: string, dimension: Schemas['Dimension']) =>
  /\d/.test(text) && !/[a-zµ°"″?]/i.test(dimension === 'time' ? text : text.replace(WORDS, ''))
