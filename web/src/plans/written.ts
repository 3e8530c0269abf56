import type { Schemas } from '../api/client'
import { unitOf } from '../ui/units'

/** A key made of words that nothing else has yet. */
export function freeKey(words: string, taken: Iterable<string>): string {
  const known = new Set(taken)
  const plain = words.toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'step'
  let free = plain
  for (let n = 2; known.has(free); n++) free = `${plain}-${n}`
  return free
}

/** A window as it is typed; bare figures of lengths are of the unit that lengths are shown in. */
export const windowText = (text: string, dimension: Schemas['Dimension'] | undefined) =>
  dimension === 'length' && /^[\d.,;\s–-]+$/.test(text.trim()) ? `${text.trim()} ${unitOf('length')}` : text
