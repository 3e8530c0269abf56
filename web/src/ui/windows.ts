// Windows with one end, as they are drawn.
import type { Schemas } from '../api/client'

/** The ends of a window on a scale: where it has none, it goes on beyond every figure. */
export function ends(window: Schemas['Window'], figures: number[]): { low: number; high: number } {
  const known = [...figures, window.target, window.low ?? window.target, window.high ?? window.target]
  const [least, most] = [Math.min(...known), Math.max(...known)]
  const room = (most - least) / 2 || Math.abs(window.target) / 2 || 1
  return { low: window.low ?? least - room, high: window.high ?? most + room }
}
