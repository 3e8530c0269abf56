// Issues that stand with their finding are not said twice.
import type { Schemas } from '../api/client'

export const besidesFindings = (issues: Schemas['Issue'][]) =>
  issues.filter(({ remedies }) => !remedies.includes('decide') && !remedies.includes('look-again'))
