// What a person chose: who they are, units, light or dark, sound. Kept in this browser.
import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { computed, ref, watchEffect } from 'vue'

/** Who is at work at this screen, by key, as the server says; empty where nobody is signed in. */
export const person = ref('')
/** The units of the shop, for who chose none. */
export const firstUnits = ref({ torque: 'N·m', length: 'mm' })

/** Torque unit by person. */
const torqueUnits = useLocalStorage<Record<string, string>>('rigore.torque-unit', {})

export const torqueUnit = computed({
  get: () => torqueUnits.value[person.value] ?? firstUnits.value.torque,
  set: (unit: string) => {
    torqueUnits.value = { ...torqueUnits.value, [person.value]: unit }
  },
})

/** The wrench that each person took in hand, where they chose one. */
const wrenches = useLocalStorage<Record<string, string>>('rigore.instrument', {})

export const wrench = computed({
  get: () => wrenches.value[person.value] ?? '',
  set: (id: string) => {
    wrenches.value = { ...wrenches.value, [person.value]: id }
  },
})

/** The tool that was chosen by hand for each operation and measure: it stays chosen there, and only there. */
export const chosenTools = useLocalStorage<Record<string, string>>('rigore.chosen-tools', {})

/** The last pull that went wrong and was acknowledged, by engine. */
export const acknowledged = useLocalStorage<Record<string, number>>('rigore.acknowledged', {})

/** The units that sizes, and clearances and other small lengths, are shown in at this bench. */
const lengths = useLocalStorage('rigore.length-unit', '')
const clearances = useLocalStorage('rigore.clearance-unit', '')

/** What the shop's unit of lengths means for each: thousandths and micrometres are for small ones. */
const sizesIn: Record<string, string> = { thou: 'in', µin: 'in', µm: 'mm' }
const clearancesIn: Record<string, string> = { in: 'thou' }

export const lengthUnit = computed({
  get: () => lengths.value || (sizesIn[firstUnits.value.length] ?? firstUnits.value.length),
  set: (unit: string) => (lengths.value = unit),
})
export const clearanceUnit = computed({
  get: () => clearances.value || (clearancesIn[firstUnits.value.length] ?? firstUnits.value.length),
  set: (unit: string) => (clearances.value = unit),
})

/** The gauge taken for each kind of site, and the unit each gauge reads in. */
export const gauges = useLocalStorage<Record<string, string>>('rigore.gauges', {})
export const gaugeUnits = useLocalStorage<Record<string, string>>('rigore.gauge-units', {})

export const sound = useLocalStorage('rigore.sound', true)

/** How soon after another press one that means something else is taken for a bounce, in ms (C-68). */
export const pressGap = useLocalStorage('rigore.press-gap', 800)

/** What a key without a figure does: a shortcut of its own; at the bench, any of them the large button; nothing. */
export type SingleKeys = 'shortcuts' | 'large-button' | 'off'
export const singleKeys = useLocalStorage<SingleKeys>('rigore.single-keys', 'shortcuts')

/** Whether the bench says aloud what is next and what came of the last pull. */
export const voice = useLocalStorage('rigore.voice', false)

/** The language that was chosen in this browser; empty where nobody chose one. */
export const chosenLanguage = useLocalStorage('rigore.language', '')

export type Theme = 'auto' | 'light' | 'dark'
export const theme = useLocalStorage<Theme>('rigore.theme', 'auto')

/** Puts the chosen face on the page. */
export function useTheme() {
  const dark = usePreferredDark()
  watchEffect(() => {
    const face = theme.value === 'auto' ? (dark.value ? 'dark' : 'light') : theme.value
    document.documentElement.dataset.theme = face
  })
}
