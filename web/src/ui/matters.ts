// Matters that stand with their finding are not said twice.
import type { Schemas } from '../api/client'

export const besidesFindings = (matters: Schemas['Issue'][]) =>
  matters.filter(({ remedies }) => !remedies.includes('decide') && !remedies.includes('look-again'))
