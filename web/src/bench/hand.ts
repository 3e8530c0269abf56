// The operation in hand: what every bench needs to record something and to say what came of it.
import { inject, onUnmounted, provide, ref, type ComputedRef, type InjectionKey, type Ref } from 'vue'
import { Refused, type Schemas } from '../api/client'
import type { Live } from '../api/live'
import { send, type Do } from '../api/outbox'

export interface Hand {
  build: Ref<string>
  bench: ComputedRef<Schemas['Bench']>
  /** What a tool shows in this operation right now. */
  live: ComputedRef<Live | null>
  /** Whether something is being recorded that has to be answered before the next. */
  busy: Ref<boolean>
  /** Why the last thing was not recorded, or what else has to be said. */
  said: Ref<string>
  /** Whether that was a question: sent once more as it is, it is kept. */
  asks: Ref<boolean>
  /** Records something; true when it was. What was refused is said, and nothing is lost. */
  act: (what: Do, seen?: number) => Promise<boolean>
  /** Sends something while the next can be typed; throws what came of it. */
  post: (what: Do, seen?: number) => Promise<void>
  /** Asks the server again how things stand. */
  refresh: () => Promise<unknown>
}

const KEY: InjectionKey<Hand> = Symbol('the operation in hand')

/** The operation in hand, for the benches of its page. */
export function provideHand(
  build: Ref<string>,
  bench: ComputedRef<Schemas['Bench']>,
  live: ComputedRef<Live | null>,
  refresh: () => Promise<unknown>,
): Hand {
  const busy = ref(false)
  const said = ref('')
  const asks = ref(false)
  let there = true
  onUnmounted(() => (there = false))

  async function post(what: Do, seen = bench.value.seq) {
    try {
      await send(build.value, seen, what, () => there)
    } finally {
      await refresh()
    }
  }

  async function act(what: Do, seen?: number): Promise<boolean> {
    if (busy.value) return false
    busy.value = true
    said.value = ''
    asks.value = false
    try {
      await post(what, seen)
      return true
    } catch (caught) {
      // What is said is said once it can be answered: the bench is as it is now.
      said.value = caught instanceof Refused ? caught.message : String(caught)
      asks.value = caught instanceof Refused && caught.is('ask')
      return false
    } finally {
      busy.value = false
    }
  }

  const hand = { build, bench, live, busy, said, asks, act, post, refresh }
  provide(KEY, hand)
  return hand
}

export function useHand(): Hand {
  const hand = inject(KEY)
  if (!hand) throw new Error('there is no operation in hand')
  return hand
}
