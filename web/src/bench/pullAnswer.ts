// Answers to a pull that need no figure.
import type { Schemas } from '../api/client'
import { t } from './texts'

/** What one key says; without a figure it is that the target is reached. */
export interface PullAnswer {
  words: string
  does: 'set' | 'clicked' | 'seen'
  figure?: number
}

const seen = (plain: Schemas['PlainAnswer']): PullAnswer => ({ ...plain, does: 'seen' })

/** What the large key says first, then the other keys: the wrench is set, it clicked, or what can be seen. */
export function pullAnswers(
  asks: Schemas['PullStep']['asks'],
  tool: Schemas['ToolFit'] | undefined,
  target: Schemas['PullStep']['target'],
): PullAnswer[] {
  const click = tool?.click
  if (click && !click.is_set) return [{ words: t('bench-it-is-set'), does: 'set', figure: target.shown }]
  const others = asks.plain.slice(1).map(seen)
  const plain = asks.plain[0]
  if (plain) return [seen(plain), ...others]
  if (click) return [{ words: t('bench-it-clicked'), does: 'clicked', figure: click.set_to_nm ?? 0 }]
  if (tool?.nature === 'hand-and-eye' && asks.by_eye) return [{ words: asks.by_eye, does: 'seen' }]
  return []
}
