// How long a calibration is good for, in words.
import type { Schemas } from '../api/client'

export function calibration({ days_left: days, calibration_due: until, due }: Schemas['RegisteredInstrument']): string {
  if (days === null || days === undefined) return ''
  if (due === 'over') return `calibration ran out ${days === -1 ? 'yesterday' : `${-days} days ago`}`
  if (due === 'soon')
    return `calibration runs out ${days === 0 ? 'today' : days === 1 ? 'tomorrow' : `in ${days} days`}`
  return `calibrated until ${until}`
}
