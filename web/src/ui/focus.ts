// Focus goes to what is next as soon as it appears: one key, one foot, one gloved finger.
import { useEventListener } from '@vueuse/core'
import { nextTick, onUnmounted, ref, type Directive, type Ref } from 'vue'

const take = (element: HTMLElement) => element.focus({ preventScroll: true })

/** Whether nothing has the focus but the page itself. */
const hasNoFocus = (at: Element | null = document.activeElement) =>
  at === document.body || at?.tagName === 'MAIN' || at?.id === 'content'

/** Gives the focus to the page that was gone to, where nothing of it takes it. */
export function focusPage() {
  void nextTick(() => {
    const main = document.querySelector('main')
    if (!main || main.contains(document.activeElement)) return
    main.tabIndex = -1
    take(main)
  })
}

export const vFocus: Directive<HTMLElement> = {
  mounted: take,
  // A key that appeared while something was being recorded could not take the focus yet.
  updated: (element) => {
    if (hasNoFocus()) take(element)
  },
}

/** Whether what is typed is for the field that finds, also while that is on its way. */
export const finding = ref(false)

/** The field in hand, where there is one. */
let inHand: Ref<HTMLElement | undefined> | undefined

/** Gives the focus back that a dialog had: to the field in hand, else to what had it before. */
export function giveBack(before: Element | null) {
  const to = inHand?.value ?? before
  if (hasNoFocus() && to instanceof HTMLElement && to.isConnected) take(to)
}

/** A character that is no key of its own everywhere. */
const CHARACTER = /^[^\s/?]$/

/**
 * What is typed where nothing takes it goes into the field in hand, as does Enter where nothing has the focus:
 * a tap beside the field loses no reading of a gauge that types.
 */
export function takesKeys(field: Ref<HTMLElement | undefined>, enter?: (event: KeyboardEvent) => void) {
  inHand = field
  onUnmounted(() => inHand === field && (inHand = undefined))
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    const at = event.target as HTMLElement
    if (
      finding.value ||
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      at.closest('input, select, textarea, [role=dialog]')
    )
      return
    const nowhere = event.key === 'Enter' && hasNoFocus(at)
    if (!nowhere && !CHARACTER.test(event.key)) return
    // The key itself goes to what has the focus by then.
    if (field.value) take(field.value)
    if (nowhere) enter?.(event)
  })
}
