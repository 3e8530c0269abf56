// Days and hours of the shop in words.
import type { Schemas } from '../api/client'
import { t } from './texts'

export const DAYS = [t('day-mon'), t('day-tue'), t('day-wed'), t('day-thu'), t('day-fri'), t('day-sat'), t('day-sun')]
/** A time of day of minutes after midnight, as a time field has it. */
export const clock = (minutes: number) =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`
/** Minutes after midnight of a time field; the end of the day where it is midnight again. */
export function minutesOf(text: string, end = false): number {
  const [hours = 0, minutes = 0] = text.split(':').map(Number)
  return end && !hours && !minutes ? 24 * 60 : hours * 60 + minutes
}
export const inHours = (hours: Schemas['WorkingHours']) =>
  t('day-working-hours', {
    days: DAYS.filter((_, at) => hours.days[at]).join(', '),
    from: clock(hours.from_min),
    to: clock(hours.to_min),
  })
/** Working time in words. */
export const hours = (minutes: number) =>
  minutes < 60 ? `${Math.round(minutes)} min` : `${(minutes / 60).toFixed(minutes < 600 ? 1 : 0)} h`

/** A day of the weeks about now. */
export function near(iso: string): string {
  const [year, month, date] = iso.split('-').map(Number)
  const at = new Date(year!, month! - 1, date)
  const far = Math.abs(at.getTime() - Date.now()) > 150 * 86_400_000
  return at.toLocaleDateString(undefined, {
    weekday: far ? undefined : 'short',
    day: 'numeric',
    month: 'short',
    year: far ? 'numeric' : undefined,
  })
}

/** When something ends by itself: the time of day, and the day where that is not today. */
export function until(iso: string): string {
  const at = new Date(iso)
  const time = at.toLocaleTimeString(undefined, { timeStyle: 'short' })
  return at.toDateString() === new Date().toDateString()
    ? time
    : `${at.toLocaleDateString(undefined, { weekday: 'short', day: 'numeric', month: 'short' })} ${time}`
}
