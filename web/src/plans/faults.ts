import type { Schemas } from '../api/client'
import { say } from '../ui/units'

/** What is known to be wrong in a table of a plan, by the field inside of it. */
export function errorsAt(faults: Schemas['Fault'][] | undefined, path: string): Record<string, string> {
  const inside = faults?.filter((of) => of.severity === 'error' && of.path.startsWith(`${path}.`)) ?? []
  return Object.fromEntries(inside.map((of) => [of.path.slice(path.length + 1), say(of.message)]))
}
