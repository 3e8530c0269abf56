// What is said of a part besides its description: what is stamped on it, its sizes, what was machined.
import type { Schemas } from '../api/client'
import { t } from './texts'

export function partNotes(part: Schemas['PartNote'], sizes: Schemas['SizeView'][]): string[] {
  const said = sizes.flatMap(({ id, name }) => (part.sizes?.[id] ? `${name} ${part.sizes[id]}` : []))
  return [part.stamp ? t('common-stamped', { stamp: part.stamp }) : '', ...said, part.machining ?? ''].filter(Boolean)
}
