// How many issues are open, and which of them are not shown with their problem already.
import type { Schemas } from '../api/client'

export const besidesFindings = (issues: Schemas['Issue'][]) =>
  issues.filter(({ remedies }) => !remedies.includes('decide') && !remedies.includes('look-again'))

/** So many open issues, in words. */
export const openIssues = (count: number) => `${count} open ${count === 1 ? 'issue' : 'issues'}`
