// How long a calibration is good for, in words.
import type { Schemas } from '../api/client'
import { t } from './texts'

export function calibration({ days_left: days, calibration_due: until, due }: Schemas['RegisteredInstrument']): string {
  if (days === null || days === undefined) return ''
  if (due === 'over')
    return t('people-calibration-ran-out', {
      days: days === -1 ? t('people-yesterday') : t('people-days-ago', { days: -days }),
    })
  if (due === 'soon')
    return t('people-calibration-runs-out', {
      days: days === 0 ? t('people-today') : days === 1 ? t('people-tomorrow') : t('people-in-days', { days }),
    })
  return t('people-calibrated-until-2', { until })
}
