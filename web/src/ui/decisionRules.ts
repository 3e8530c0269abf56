// The rules by which measured values are judged near a limit, as they are named to people.
import type { Schemas } from '../api/client'
import { t } from './texts'

type DecisionRule = Schemas['DecisionRule']
/** Every rule with its edition and what it asks for; the usual one first. */
export const decisionRules: { value: DecisionRule; name: string; says: string }[] = [
  {
    value: 'iso-14253-1-2017',
    name: 'ISO 14253-1:2017',
    says: t('ui-in-spec-when-it-is-inside'),
  },
  {
    value: 'iso-14253-1-2013',
    name: 'ISO 14253-1:2013',
    says: t('ui-in-spec-when-it-is-inside-2'),
  },
]

/** The edition of a rule. */
export const nameOf = (rule: DecisionRule) => decisionRules.find((of) => of.value === rule)?.name ?? rule
