// The typed client of Rigore's API.
import createClient, { type Middleware } from 'openapi-fetch'
import { person } from '../ui/preferences'
import type { components, paths } from './schema'
import { say, sentence } from '../ui/units'
import { t } from '../ui/catalog'

export type Schemas = components['schemas']
export type Problem = Schemas['Problem']

const nobody: (() => void)[] = []
/** Tells when the server says that nobody is signed in here any more. */
export const onNobody = (heard: () => void) => void nobody.push(heard)

/** Asks whoever is signed in for their PIN or password; whether they gave it. */
let prove: () => Promise<boolean> = () => Promise.resolve(false)
/** Says who asks for it where the server wants proof of who is at the screen. */
export const onProof = (ask: () => Promise<boolean>) => void (prove = ask)

/** What was asked for, to be asked for once more with proof. */
const again = new WeakMap<Request, Request>()

/** Whom this page shows as at work: the server refuses to record in another name. Who asks it knows by itself. */
const shown: Middleware = {
  onRequest({ request }) {
    if (person.value && !request.headers.has('x-rigore-as')) request.headers.set('x-rigore-as', person.value)
    if (request.method !== 'GET') again.set(request, request.clone())
    return request
  },
  async onResponse({ request, response }) {
    const signing = new URL(request.url).pathname.startsWith('/api/session')
    const kind =
      response.status === 409 || response.status === 403 ? ((await response.clone().json()) as Problem).type : ''
    const another = kind === '/problems/somebody-else'
    if ((response.status === 401 && !signing) || another) nobody.forEach((heard) => heard())
    // What signs, or changes who may do what, is asked for again once its person has proved to be there.
    const same = again.get(request)
    if (kind === '/problems/confirm' && same && (await prove())) return fetch(same)
    return response
  },
}

export const api = createClient<paths>({ baseUrl: '/' })
api.use(shown)

/** A refusal by the server, with the fields at fault. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    // What was typed stands in the field in hand: its key in the command says nothing to anybody.
    const typed = problem.errors.find((one) => one.field === 'text')
    super(typed ? sentence(typed.message) : say(problem.message))
  }

  /** What is wrong with each field, by its name; a path in front of all of them can be cut off. */
  byField(cut: RegExp = /^$/): Record<string, string> {
    return Object.fromEntries(this.problem.errors.map((one) => [one.field.replace(cut, ''), say(one.message)]))
  }

  is(kind: string): boolean {
    return this.problem.type === `/problems/${kind}`
  }
}

/** The data of an answer, or an error: {@link Refused}, or a plain one when nobody answered. */
export function take<T>(answer: { data?: T; error?: unknown; response: Response }): T {
  if (answer.response.ok) return answer.data as T
  const problem = answer.error as Problem | undefined
  if (problem?.detail && answer.response.status < 500) throw new Refused(problem)
  throw new Error(problem?.detail ?? t('common-no-connection'))
}
