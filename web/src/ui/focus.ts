// Focus goes to what is next as soon as it appears: one key, one foot, one gloved finger.
import type { Directive } from 'vue'

export const vFocus: Directive<HTMLElement> = {
  mounted: (element) => element.focus({ preventScroll: true }),
}
