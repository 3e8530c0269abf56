// A pedal, a glove and a bounced key press twice (C-68): a press does nothing where it would mean something else
// than the one right before it. One place for every key and button, the signature first.
import { useEventListener } from '@vueuse/core'
import { pressGap } from './preferences'
import { isLargeButtonKey } from './singleKeys'

interface Press {
  /** When it was made, in ms. */
  at: number
  /** What it meant then. */
  meaning: string
}

/** What a press means: where it lands, and what is in hand there. */
function meaningAt(element: Element): string {
  const inHand = [...document.querySelectorAll<HTMLElement>('[data-in-hand]')].map((of) => of.dataset.inHand)
  const dialog = document.querySelector('[role=dialog]')
  const control = element.closest('button, a, input, select, textarea, summary, [role=option]')
  return [
    location.pathname,
    ...inHand,
    dialog ? (dialog.getAttribute('aria-labelledby') ?? dialog.id) : '',
    control ? `${control.tagName} ${control.getAttribute('name') ?? ''} ${control.textContent?.trim() ?? ''}` : '',
  ].join('\n')
}

/** Lets through the presses that were meant, for all of the page. */
export function guardPresses() {
  let last: Press | null = null
  /** Whether Enter is down since its last press. */
  let down = false

  /** Whether a press comes so soon after another one that meant something else that nobody can have meant it. */
  function bounces(element: Element, at: number): boolean {
    const meaning = meaningAt(element)
    const bounced = !!last && at - last.at < pressGap.value && last.meaning !== meaning
    // What bounced says nothing, and the next press is held against it all the same.
    last = { at, meaning: bounced && last ? last.meaning : meaning }
    return bounced
  }
  function stop(event: Event) {
    event.preventDefault()
    event.stopImmediatePropagation()
  }

  useEventListener(
    window,
    'keydown',
    (event: KeyboardEvent) => {
      const element = event.target instanceof Element ? event.target : document.body
      const presses = event.key === 'Enter' || (event.key === ' ' && element.closest('button, a, summary'))
      if (!presses && !isLargeButtonKey(event)) {
        // Something else was typed in between: what follows is meant.
        last = null
        return
      }
      if (element instanceof HTMLTextAreaElement || element.closest('[contenteditable]')) return
      const held = event.repeat || (down && event.key === 'Enter' && last !== null)
      down = event.key === 'Enter'
      if (held || bounces(element, event.timeStamp)) stop(event)
    },
    { capture: true },
  )
  useEventListener(
    window,
    'keyup',
    (event: KeyboardEvent) => {
      if (event.key === 'Enter') down = false
    },
    { capture: true },
  )
  useEventListener(window, 'blur', () => (down = false))
  useEventListener(
    window,
    'click',
    (event: MouseEvent) => {
      // A key that presses a button was judged as a key already.
      if (event.detail === 0 || !(event.target instanceof Element)) return
      if (!event.target.closest('button, a, summary')) return
      if (bounces(event.target, event.timeStamp)) stop(event)
    },
    { capture: true },
  )
}
