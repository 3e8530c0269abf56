// How many issues are open, and which of them are not shown with their problem already.
import type { Schemas } from '../api/client'
import { t } from './texts'

export const besidesFindings = (issues: Schemas['Issue'][]) =>
  issues.filter(({ remedies }) => !remedies.includes('decide') && !remedies.includes('look-again'))

/** So many open issues, in words. */
export const openIssues = (count: number) => t('ui-open-issues', { count })
