// Dry runs: a draft at a bench that records nothing.
import { api, Refused, take } from '../api/client'
import { router } from '../router'
import { t } from './texts'

/** Begins a dry run of a draft, at its first step or at one with a key; why it cannot be begun, or nothing. */
export async function beginDryRun(draft: string, from?: string): Promise<string> {
  try {
    const answer = await api.POST('/api/drafts/{draft}/dry-run', { params: { path: { draft } }, body: { from } })
    const run = take(answer)
    await router.push(run.operation ? `/engines/${run.id}/bench/${run.operation}` : `/engines/${run.id}`)
    return ''
  } catch (caught) {
    if (caught instanceof Refused && caught.problem.errors.length) return t('plans-fix-its-errors-then-try-it')
    return caught instanceof Refused ? caught.message : t('plans-no-connection')
  }
}
