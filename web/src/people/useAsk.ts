// Asking the server for something a form wants: what was wrong stands at its field, and what was typed stays.
import { ref } from 'vue'
import { Refused } from '../api/client'
import { t } from './texts'

export function useAsk() {
  const wrong = ref<Record<string, string>>({})
  const error = ref('')
  /** The kind of problem that it was refused with. */
  const kind = ref('')
  const busy = ref(false)
  /** Whether it was done. */
  async function ask(what: () => Promise<unknown>): Promise<boolean> {
    ;[wrong.value, error.value, kind.value, busy.value] = [{}, '', '', true]
    try {
      await what()
      return true
    } catch (caught) {
      if (caught instanceof Refused) kind.value = caught.problem.type.replace('/problems/', '')
      if (caught instanceof Refused && caught.problem.errors.length) wrong.value = caught.byField()
      else error.value = caught instanceof Refused ? caught.message : t('common-no-connection-what-you-typed-is-2')
      return false
    } finally {
      busy.value = false
    }
  }
  return { wrong, error, kind, busy, ask }
}
