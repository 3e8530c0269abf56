// Who and when, said once where it is the same for all.
import { dated } from '../ui/units'

export interface Stamp {
  by?: string | null
  at?: string | null
}

/** The value that all have, where they have one. */
export const common = <T>(values: T[]): T | undefined => (new Set(values).size === 1 ? values[0] : undefined)

/** Whether a day is that of a stamp. */
export const sameDay = (day: string | undefined, stamp?: Stamp) => !!day && day === dated(stamp?.at).slice(0, 10)

/** What is said of some entries at their head, where the signature over them does not say it, and the rest of each. */
export function stamps(all: Stamp[], signed?: Stamp): { head: string; of: (stamp: Stamp) => string } {
  const made = all.filter((stamp) => stamp.by && stamp.at)
  const [by, day] = [common(made.map((stamp) => stamp.by)), common(made.map((stamp) => dated(stamp.at).slice(0, 10)))]
  const asSigned = by === signed?.by && sameDay(day, signed)
  return {
    head: made.length > 1 && !asSigned ? [by, day].filter(Boolean).join(', ') : '',
    of: (stamp) =>
      stamp.by
        ? [made.length > 1 && by ? '' : stamp.by, made.length > 1 && day ? dated(stamp.at).slice(11) : dated(stamp.at)]
            .filter(Boolean)
            .join(', ')
        : '',
  }
}
