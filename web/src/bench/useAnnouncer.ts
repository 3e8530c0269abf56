// What came of a pull and what is next, as one sentence: for a screen reader, and aloud where somebody wants that.
import { onUnmounted, ref, watch } from 'vue'
import { voice } from '../ui/preferences'
import { t } from './texts'

/** Units as they are said. */
const SPOKEN: [RegExp, string][] = [
  [/N·m/g, t('bench-newton-metres')],
  [/lbf·ft/g, t('bench-foot-pounds')],
  [/lbf·in/g, t('bench-inch-pounds')],
  [/kgf·m/g, t('bench-kilogram-metres')],
  [/°/g, ` ${t('bench-degrees')}`],
  [/µm/g, t('bench-micrometres')],
  [/mm/g, t('bench-millimetres')],
  [/\bin\b(?=[.,]|$)/g, t('bench-inches')],
]
/** A sentence as it is said aloud. */
export const spoken = (sentence: string) =>
  SPOKEN.reduce((text, [unit, words]) => text.replace(unit, words), sentence.replace(/\u00a0/g, ' '))

/** Says aloud what there is to be said now; what was being said before ends. */
function speak(sentence: string) {
  if (!voice.value || !('speechSynthesis' in window) || !sentence) return
  window.speechSynthesis.cancel()
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(spoken(sentence)))
}

/**
 * The sentence to be heard now. `verdict` is what came of the last entry, by its number; `next` what is to be done.
 * Each verdict is said once.
 */
export function useAnnouncer(verdict: () => { seq: number; text: string } | null, next: () => string) {
  const sentence = ref('')
  let heard = verdict()?.seq ?? 0
  watch(
    () => [verdict()?.seq ?? 0, next()] as const,
    ([seq, then], before) => {
      const last = verdict()
      const isNew = last && seq > heard
      heard = Math.max(heard, seq)
      sentence.value = [isNew ? last.text : '', before && !isNew && before[1] === then ? '' : then]
        .filter(Boolean)
        .join('. ')
      speak(sentence.value)
    },
    { immediate: true },
  )
  onUnmounted(() => 'speechSynthesis' in window && window.speechSynthesis.cancel())
  return sentence
}
