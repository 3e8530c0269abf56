// What is typed belongs to what it was typed for and to who typed it, until it is sent.
//
// A draft is held under the person at work and the place it is typed at (an engine's operation, and the
// field): another person, or another operation, has a draft of their own, and the first one is there
// again when one comes back. From the first key on it keeps its target, whatever another screen records
// meanwhile; it outlives a reload.
import { useSessionStorage } from '@vueuse/core'
import { computed } from 'vue'
import { person } from '../ui/preferences'

/** Something typed and not sent yet. */
export interface Draft<Value, Target> {
  value: Value
  target: Target
  /** The last entry that was seen when it was begun. */
  seen: number
  /** What the server said of it, where it came back. */
  message?: string
  /** Whether it was asked if that is right: sent once more as it is, it is kept. */
  ask?: boolean
}

interface Options<Value, Target> {
  /** The engine, operation and field. */
  place: () => string
  /** What a draft that is begun now is for. */
  target: () => Target | null
  /** The last entry that is seen now. */
  seen: () => number
  /** Nothing typed. */
  empty: () => Value
}

const drafts = useSessionStorage<Record<string, Draft<unknown, unknown>[]>>('rigore.drafts', {})

export function useEntry<Value, Target>({ place, target, seen, empty }: Options<Value, Target>) {
  const key = computed(() => `${person.value} ${place()}`)
  const read = (at: string) => (drafts.value[at] ?? []) as Draft<Value, Target>[]
  const write = (at: string, list: Draft<Value, Target>[]) => {
    const others = { ...drafts.value }
    delete others[at]
    drafts.value = list.length ? { ...others, [at]: list } : others
  }
  /** The draft in hand; others that came back wait behind it. */
  const draft = computed(() => read(key.value)[0] ?? null)
  const same = (a: Value, b: Value) => JSON.stringify(a) === JSON.stringify(b)

  /** What was added to what was typed before; all of it where that was typed over. */
  const since = (now: Value, before: Value): Value =>
    typeof now === 'string' && typeof before === 'string' && now.startsWith(before)
      ? (now.slice(before.length) as Value)
      : now

  const value = computed<Value>({
    get: () => draft.value?.value ?? empty(),
    set: (typed) => {
      const [first, ...rest] = read(key.value)
      if (same(typed, empty())) return write(key.value, rest)
      const aim = first?.target ?? target()
      if (aim === null) return
      // What was said of it was said of what it was before.
      write(key.value, [{ value: typed, target: aim, seen: first?.seen ?? seen() }, ...rest])
    },
  })

  return {
    /** What is typed. */
    value,
    /** What it is for: what it was begun for, else what is next. */
    target: computed(() => draft.value?.target ?? target()),
    /** What the server said of it. */
    message: computed(() => draft.value?.message ?? ''),
    /** Whether sending it as it is keeps it. */
    ask: computed(() => !!draft.value?.ask),
    /** Takes the draft out of the field, to be sent; a way to put it back goes with it. */
    take() {
      const at = key.value
      const [first, ...rest] = read(at)
      if (!first) return null
      write(at, rest)
      /** It was not recorded: the field shows it again, after what is being typed there now. */
      const giveBack = (message: string, ask = false) => {
        const now = read(at)
        const back = { ...first, message, ask, seen: seen() }
        write(at, now[0] && now[0].message === undefined ? [now[0], back, ...now.slice(1)] : [back, ...now])
      }
      return { ...first, giveBack }
    },
    /** The draft while it is on its way and stays in its field. */
    hold() {
      const at = key.value
      const first = read(at)[0]
      if (!first) return null
      /** It was recorded; what was typed behind it meanwhile is for what is next. */
      const done = () => {
        const [now, ...rest] = read(at)
        const more = now && !same(now.value, first.value) ? since(now.value, first.value) : empty()
        const aim = target()
        write(at, same(more, empty()) || aim === null ? rest : [{ value: more, target: aim, seen: seen() }, ...rest])
      }
      /** It was not recorded: what was said came in between is seen now. */
      const failed = (message: string, ask = false) =>
        write(at, [{ ...first, message, ask, seen: seen() }, ...read(at).slice(1)])
      return { ...first, done, failed }
    },
    /** Throws away what is typed. */
    clear() {
      write(key.value, read(key.value).slice(1))
    },
    /** What is typed is for something else. */
    aim(other: Target) {
      const [first, ...rest] = read(key.value)
      if (first) write(key.value, [{ value: first.value, target: other, seen: seen() }, ...rest])
    },
  }
}
