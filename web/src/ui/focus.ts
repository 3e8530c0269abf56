// Focus goes to what is next as soon as it appears: one key, one foot, one gloved finger.
import type { Directive } from 'vue'

const take = (element: HTMLElement) => element.focus({ preventScroll: true })

export const vFocus: Directive<HTMLElement> = {
  mounted: take,
  // A key that appeared while something was being recorded could not take the focus yet.
  updated: (element) => {
    if (document.activeElement === document.body) take(element)
  },
}
