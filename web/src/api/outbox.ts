// Sending commands so that none is lost or doubled: each carries its own id, is kept in the
// browser until it is answered, and is sent again while the server is away.
import { useLocalStorage } from '@vueuse/core'
import { v7 } from 'uuid'
import { computed } from 'vue'
import { api, Refused, take, type Schemas } from './client'

type Command = Schemas['Command']
export type Do = Command['do']
export type Answer = Schemas['Answer']

interface Waiting {
  build: string
  command: Command
}

const AGAIN_MS = 700
const waiting = useLocalStorage<Waiting[]>('rigore.outbox', [])

/** How many commands are on their way. */
export const onTheWay = computed(() => waiting.value.length)

const pause = () => new Promise((resolve) => setTimeout(resolve, AGAIN_MS))

async function deliver({ build, command }: Waiting): Promise<Answer> {
  for (;;) {
    try {
      const answer = await api.POST('/api/builds/{build}/commands', {
        params: { path: { build } },
        body: command,
      })
      return take(answer)
    } catch (error) {
      if (error instanceof Refused) throw error
      await pause()
    }
  }
}

async function post(item: Waiting): Promise<Answer> {
  try {
    return await deliver(item)
  } finally {
    waiting.value = waiting.value.filter((other) => other.command.id !== item.command.id)
  }
}

/** Sends a command; answered once it is recorded. Throws {@link Refused} when it is not. */
export function send(build: string, seen: number, what: Do): Promise<Answer> {
  const item = { build, command: { id: v7(), seen, do: what } }
  waiting.value = [...waiting.value, item]
  return post(item)
}

/** Sends again what was on its way when the page was closed. */
export async function resume(): Promise<void> {
  for (const item of [...waiting.value]) await post(item).catch(() => undefined)
}
