// Following one build: every entry that is recorded anywhere, and what a tool shows while it pulls.
import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { onUnmounted, ref, watch, type Ref } from 'vue'
import type { Schemas } from './client'
import { asks } from './outbox'
import { person } from '../ui/preferences'
import { keys } from './queries'

/** What a tool shows while it pulls. */
export interface Live {
  operation: string
  joint: string
  fastener: string
  value: number
  verdict: Schemas['Verdict']
}

/** Whether the server answers. */
export const connected = ref(true)

const AGAIN_MS = 1000
/** A stream that says nothing for so long is broken: it beats every second. */
const SILENT_MS = 3000
/** An engine whose stream is refused, such as one whose record is broken, is asked for again after so long. */
const REFUSED_MS = 10_000
const SOON_MS = 50

/** Keeps the screens of a build up to date and gives what a tool shows right now. */
export function useLive(build: Ref<string>) {
  const client = useQueryClient()
  const live = ref<Live | null>(null)
  let source: EventSource | undefined
  let timer: number | undefined
  let watchdog: number | undefined
  /** How often it did not begin since it last did. */
  let failed = 0
  /** The last entry that is known of: after a break it goes on from there. */
  let last = ''

  const refresh = () => client.invalidateQueries({ queryKey: keys.build(build.value) })

  /** Whether the server answers at all. */
  async function answers(): Promise<boolean> {
    try {
      return (await fetch('/api/units', { signal: AbortSignal.timeout(SILENT_MS), cache: 'no-store' })).ok
    } catch {
      return false
    }
  }

  function broke() {
    failed += 1
    live.value = null
    leave()
    const again = (ms: number) => (timer = window.setTimeout(follow, ms))
    if (failed <= 1 || !person.value) return void again(SOON_MS)
    const of = build.value
    const begun = failed
    void answers().then((there) => {
      if (of !== build.value || begun !== failed) return
      connected.value = there
      again(there ? REFUSED_MS : AGAIN_MS)
    })
  }

  /** It said something. */
  function lives() {
    window.clearTimeout(watchdog)
    watchdog = window.setTimeout(() => {
      failed += 1
      live.value = null
      if (person.value) connected.value = false
      leave()
      timer = window.setTimeout(follow, AGAIN_MS)
    }, SILENT_MS)
  }

  function leave() {
    window.clearTimeout(timer)
    window.clearTimeout(watchdog)
    source?.close()
    source = undefined
  }

  function follow() {
    leave()
    const again = last !== ''
    source = new EventSource(`/api/builds/${build.value}/events${again ? `?after=${last}` : ''}`)
    lives()
    for (const kind of ['open', 'here', 'entry', 'live', 'beat']) source.addEventListener(kind, lives)
    source.addEventListener('open', () => {
      failed = 0
      connected.value = true
    })
    source.addEventListener('here', (event) => {
      // What came in before the stream began is not told by it.
      if (!again) void refresh()
      last = (event as MessageEvent<string>).lastEventId
    })
    source.addEventListener('entry', (event) => {
      last = (event as MessageEvent<string>).lastEventId
      live.value = null
      if (!asks(build.value, Number(last))) void refresh()
    })
    source.addEventListener('live', (event) => {
      live.value = JSON.parse((event as MessageEvent<string>).data) as Live
    })
    // A stream ends with its session, too: only what does not begin again is a server that does not answer.
    source.addEventListener('error', broke)
  }

  watch(
    build,
    () => {
      last = ''
      follow()
    },
    { immediate: true },
  )
  // Somebody else hears by their own session.
  watch(person, (now) => (now ? follow() : undefined))
  // A browser has few connections to one server: a page nobody looks at does not hold one.
  useEventListener(document, 'visibilitychange', () => (document.hidden ? leave() : follow()))
  useEventListener(window, 'pagehide', leave)
  useEventListener(window, 'pageshow', (event) => event.persisted && follow())
  onUnmounted(() => {
    leave()
    connected.value = true
  })
  return { live }
}
