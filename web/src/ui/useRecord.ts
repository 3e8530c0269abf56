// Recording from a page that is not a bench: why it was refused, or nothing.
import { Refused } from '../api/client'
import { send, type CommandAction } from '../api/outbox'

export function useRecord(build: () => string, seen: () => number, after: () => Promise<unknown>) {
  return async (what: CommandAction): Promise<string> => {
    try {
      await send(build(), seen(), what)
      return ''
    } catch (caught) {
      return caught instanceof Refused ? caught.message : String(caught)
    } finally {
      await after()
    }
  }
}
