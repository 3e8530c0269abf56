// Sending commands so that none is lost, doubled or given somebody else's name: each carries its own
// id and who typed it, is kept in the browser until it is answered, and is sent again while the server
// is away. What an engine is sent keeps its order; what cannot be recorded holds nothing up, and is
// shown until somebody has seen it.
import { useLocalStorage } from '@vueuse/core'
import { v7 } from 'uuid'
import { computed } from 'vue'
import { person } from '../ui/preferences'
import { api, Refused, take, type Schemas } from './client'
import { loadSession, onArrival } from './session'

type Command = Schemas['Command']
export type CommandAction = Command['action']
export type Answer = Schemas['CommandAnswer']

interface Waiting {
  build: string
  person: string
  command: Command
  /** The operation that is looked at meanwhile. */
  show?: string
}

/** A command that was not recorded, for somebody to look at. */
export interface Returned extends Waiting {
  message: string
}

/** Somebody on this page who waits for the answer to a command. */
interface Listener {
  answered: (answer: Answer) => void
  refused: (error: Error) => void
  /** Whether what it would say can still be seen. */
  heard: () => boolean
}

const AGAIN_MS = 700
/** How long an answer may take before the same is sent once more. */
const ANSWER_MS = 8000
/** Times a command is sent that the server stumbles over. */
const STUMBLES = 3

/** Commands in the browser's storage; an earlier Rigore called their action `do`. */
function stored<Item extends Waiting>() {
  const renamed = ({ command, ...item }: Item & { command: { do?: CommandAction } }) => {
    const { do: earlier, ...now } = command
    return { ...item, command: earlier ? { ...now, action: earlier } : now }
  }
  return {
    read: (text: string) => (JSON.parse(text) as Item[]).map(renamed) as unknown as Item[],
    write: (items: Item[]) => JSON.stringify(items),
  }
}

const waiting = useLocalStorage<Waiting[]>('rigore.outbox', [], { serializer: stored<Waiting>() })
export const returned = useLocalStorage<Returned[]>('rigore.returned', [], { serializer: stored<Returned>() })
const listeners = new Map<string, Listener>()
const pumping = new Set<string>()
/** Engines that somebody on this page waits for an answer about, and the last entry that one told of. */
const asking = new Map<string, number>()
const told = new Map<string, number>()
/** The last entry of an engine that came while somebody waited for an answer about it. */
const meanwhile = new Map<string, number>()

/** Whether somebody on this page will know how an engine stands, after an entry that has just come. */
export function asks(build: string, seq: number): boolean {
  const waits = (asking.get(build) ?? 0) > 0
  if (waits) meanwhile.set(build, Math.max(seq, meanwhile.get(build) ?? 0))
  return waits || seq <= (told.get(build) ?? 0)
}

/** Whether nothing came since an entry that nobody asked about. */
export const isLatest = (build: string, seq: number) => seq >= (meanwhile.get(build) ?? 0)

/** How many commands are on their way. */
export const onTheWay = computed(() => waiting.value.length)

const pause = () => new Promise((resolve) => setTimeout(resolve, AGAIN_MS))

/** Sends one command until it is answered: recorded, or refused for good; nothing where another person is at work. */
async function deliver({ build, person, command, show }: Waiting): Promise<Answer | undefined> {
  for (let stumbles = 0; ;) {
    try {
      const answer = await api.POST('/api/builds/{build}/commands', {
        params: { path: { build }, query: { show } },
        body: command,
        headers: { 'x-rigore-as': person },
        signal: AbortSignal.timeout(ANSWER_MS),
      })
      const status = answer.response.status
      // Nobody is signed in, or somebody else: it waits for who typed it.
      const kind = (answer.error as { type?: string } | undefined)?.type
      if (status === 401 || kind === '/problems/somebody-else') {
        await loadSession().catch(() => undefined)
        return undefined
      }
      if (status >= 500 && status !== 503 && ++stumbles >= STUMBLES) throw new Refused(answer.error!)
      return take(answer)
    } catch (error) {
      if (error instanceof Refused) throw error
      await pause()
    }
  }
}

/** Sends what waits for one engine, one after the other. */
async function pump(build: string) {
  if (pumping.has(build)) return
  pumping.add(build)
  for (;;) {
    const item = waiting.value.find((other) => other.build === build && other.person === person.value)
    if (!item) break
    const listener = listeners.get(item.command.id)
    try {
      const answer = await deliver(item)
      if (!answer) continue
      if (listener) told.set(build, answer.seq)
      listener?.answered(answer)
    } catch (caught) {
      const error = caught instanceof Error ? caught : new Error(String(caught))
      if (!listener?.heard()) returned.value = [...returned.value, { ...item, message: error.message }]
      listener?.refused(error)
    }
    if (listeners.delete(item.command.id)) asking.set(build, (asking.get(build) ?? 1) - 1)
    waiting.value = waiting.value.filter((other) => other.command.id !== item.command.id)
  }
  pumping.delete(build)
}

/**
 * Sends a command as whoever is at work now; answered once it is recorded, with how the operation that is
 * looked at stands then. Throws {@link Refused} when it is not recorded; where nobody hears that any more,
 * it is kept to be looked at.
 */
export function send(
  build: string,
  seen: number,
  what: CommandAction,
  show?: string,
  heard: () => boolean = () => true,
): Promise<Answer> {
  const command = { id: v7(), seen, action: what }
  const answer = new Promise<Answer>((answered, refused) => {
    listeners.set(command.id, { answered, refused, heard })
    asking.set(build, (asking.get(build) ?? 0) + 1)
  })
  waiting.value = [...waiting.value, { build, person: person.value, command, show }]
  void pump(build)
  return answer
}

/** Sends again what was on its way when the page was closed. */
export function resume(): void {
  for (const build of new Set(waiting.value.map((item) => item.build))) void pump(build)
}

onArrival(resume)

/** What was typed by somebody who is not signed in here now. */
export const held = computed(() => waiting.value.filter((item) => item.person !== person.value))

/** What somebody typed is not to be sent any more. */
export function throwAway(id: string): void {
  waiting.value = waiting.value.filter((item) => item.command.id !== id)
}

/** Somebody has seen that a command was not recorded. */
export function dismiss(id: string): void {
  returned.value = returned.value.filter((item) => item.command.id !== id)
}
