// Keys without a figure: shortcuts, or any of them the large button of the bench, for a pedal or an elbow.
import { useEventListener } from '@vueuse/core'
import { singleKeys } from './preferences'

/** What belongs to a figure, to the page or to the browser in every case. */
const KEEPS = new Set([
  ...'0123456789.,+-',
  ...['Tab', 'Escape', 'Enter', 'Shift', 'Control', 'Alt', 'AltGraph', 'Meta', 'CapsLock', 'NumLock'],
  ...['F1', 'F5', 'F11', 'F12', 'Dead', 'Process', 'Unidentified'],
])

/** Fields that take the focus by themselves at the bench: an empty one gives its keys up. */
const READINGS = ['reading', 'count', 'turning-torque']

/** Whether keys are shortcuts now (WCAG 2.1.4: they can be switched off). */
export const hasShortcuts = () => singleKeys.value === 'shortcuts'

/** Whether a key stands for the large button of the bench now. */
export function isLargeButtonKey(event: KeyboardEvent): boolean {
  if (singleKeys.value !== 'large-button' || KEEPS.has(event.key)) return false
  if (event.ctrlKey || event.metaKey || event.altKey || !document.querySelector('[data-in-hand]')) return false
  const at = event.target as HTMLElement
  // A control that has the focus is pressed by its own key.
  if (event.key === ' ' && at.closest('button, a, summary, [role=button]')) return false
  if (at.closest('select, textarea, [role=dialog]') || document.querySelector('[role=dialog]')) return false
  return !(at instanceof HTMLInputElement && (!READINGS.includes(at.name) || at.value !== ''))
}

/** Presses the large button of the work in hand where any key is one; never one that stands above or below it. */
export function useLargeButton() {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (!isLargeButtonKey(event) || event.repeat) return
    event.preventDefault()
    document.querySelector<HTMLElement>('[data-work] .key-main:enabled')?.click()
  })
}
