// The operation in hand: what every bench needs to record something and to say what came of it.
import { computed, inject, onUnmounted, provide, ref, type ComputedRef, type InjectionKey, type Ref } from 'vue'
import { Refused, type Schemas } from '../api/client'
import type { Live } from '../api/live'
import { send, type CommandAction } from '../api/outbox'
import { asking } from '../api/session'
import { t } from './texts'

export interface Hand {
  build: Ref<string>
  bench: ComputedRef<Schemas['OperationBench']>
  /** What a tool shows in this operation right now. */
  live: ComputedRef<Live | null>
  /** Whether something is being recorded that has to be answered before the next. */
  busy: Ref<boolean>
  /** Whether that takes so long that it has to be seen. */
  slow: Ref<boolean>
  /** Whether nothing was answered for so long that it has to be said: what was typed is sent until it is. */
  late: Ref<boolean>
  /** Why the last thing was not recorded, or what else has to be said. */
  said: Ref<string>
  /** Whether that was a question: sent once more as it is, it is kept. */
  asks: Ref<boolean>
  /**
   * Records something; true when it was. What was refused is said, and nothing is lost. `since` is when it was
   * typed, by `performance.now()`, where that was before.
   */
  act: (what: CommandAction, seen?: number, since?: number) => Promise<boolean>
  /** Sends something while the next can be typed; throws what came of it. */
  post: (what: CommandAction, seen?: number) => Promise<void>
  /** Asks the server again how things stand. */
  refresh: () => Promise<unknown>
}

/** Ways to see how things stand. */
export interface Looks {
  /** Asks the server. */
  refresh: () => Promise<unknown>
  /** What came with the answer to a command; asks where nothing did. */
  show: (bench: Schemas['OperationBench'] | null | undefined) => Promise<unknown>
}

/** What is answered sooner is not worth drawing the bench for. */
const SEEN_MS = 150
/** What is answered later is said not to be recorded yet. */
const LATE_MS = 2500

const KEY: InjectionKey<Hand> = Symbol('the operation in hand')

/** The operation in hand, for the benches of its page. */
export function provideHand(
  build: Ref<string>,
  bench: ComputedRef<Schemas['OperationBench']>,
  live: ComputedRef<Live | null>,
  { refresh, show }: Looks,
): Hand {
  const busy = ref(false)
  const slow = ref(false)
  const overdue = ref(false)
  // Whoever is asked for their PIN takes their time: nothing was sent yet.
  const late = computed(() => overdue.value && !asking.value)
  let waiting = 0
  const said = ref('')
  const asks = ref(false)
  let there = true
  onUnmounted(() => (there = false))

  async function post(what: CommandAction, seen = bench.value.seq, since = performance.now()) {
    const operation = bench.value.operation.id
    waiting += 1
    const timer = window.setTimeout(() => (overdue.value = true), LATE_MS - (performance.now() - since))
    try {
      const answer = await send(build.value, seen, what, operation, () => there)
      await show(answer.bench)
    } catch (caught) {
      await refresh()
      throw caught
    } finally {
      window.clearTimeout(timer)
      waiting -= 1
      if (waiting === 0) overdue.value = false
    }
  }

  async function act(what: CommandAction, seen?: number, since?: number): Promise<boolean> {
    if (busy.value) return false
    busy.value = true
    const timer = window.setTimeout(() => (slow.value = true), SEEN_MS)
    said.value = ''
    asks.value = false
    try {
      await post(what, seen, since)
      return true
    } catch (caught) {
      // What is said is said once it can be answered: the bench is as it is now.
      said.value = caught instanceof Refused ? caught.message : String(caught)
      asks.value = caught instanceof Refused && caught.is('ask')
      return false
    } finally {
      window.clearTimeout(timer)
      slow.value = false
      busy.value = false
    }
  }

  const hand = { build, bench, live, busy, slow, late, said, asks, act, post, refresh }
  provide(KEY, hand)
  return hand
}

/** Lets go of what was tapped once that is recorded. What is tapped meanwhile stays. */
export function letGo<Tapped, None extends Tapped>(tapped: Ref<Tapped>, none: None): () => void {
  const sent = tapped.value
  return () => {
    if (tapped.value === sent) tapped.value = none
  }
}

export function useHand(): Hand {
  const hand = inject(KEY)
  if (!hand) throw new Error(t('bench-no-operation-is-open'))
  return hand
}
