// Changing a plan from a dialog: what is refused is said at its fields, and what was entered stays.
import { ref } from 'vue'
import { Refused } from '../api/client'
import type { Edit } from './useDraft'
import { t } from './texts'

/** Gives the edits to a draft; what it answers is a refusal in words, or nothing. */
export type Change = (edits: Edit[], sound?: string) => Promise<string>

export function useChange(change: Change, done: () => void) {
  const message = ref('')
  /** What is wrong by field, as the plan names it: `thread`, `parts.hole`. */
  const errors = ref<Record<string, string>>({})
  async function send(edits: Edit[], sound: string) {
    errors.value = {}
    try {
      message.value = await change(edits, sound)
      if (!message.value) done()
    } catch (caught) {
      if (!(caught instanceof Refused)) throw caught
      errors.value = caught.byField()
      message.value = t('plans-nothing-was-changed-see-the-fields')
    }
  }
  return { message, errors, send }
}
