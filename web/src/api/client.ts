// The typed client of Rigore's API.
import createClient, { type Middleware } from 'openapi-fetch'
import { person } from '../ui/preferences'
import type { components, paths } from './schema'
import { say } from '../ui/units'

export type Schemas = components['schemas']
export type Problem = Schemas['Problem']

const nobody: (() => void)[] = []
/** Tells when the server says that nobody is signed in here any more. */
export const onNobody = (heard: () => void) => void nobody.push(heard)

/** Whom this page shows as at work: the server refuses to record in another name. Who asks it knows by itself. */
const shown: Middleware = {
  onRequest({ request }) {
    if (person.value && !request.headers.has('x-rigore-as')) request.headers.set('x-rigore-as', person.value)
    return request
  },
  async onResponse({ request, response }) {
    const signing = new URL(request.url).pathname.startsWith('/api/session')
    const another = response.status === 409 && ((await response.clone().json()) as Problem).type === '/problems/somebody-else'
    if ((response.status === 401 && !signing) || another) nobody.forEach((heard) => heard())
    return response
  },
}

export const api = createClient<paths>({ baseUrl: '/' })
api.use(shown)

/** A refusal by the server, with the fields at fault. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(say(problem.message))
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
  throw new Error(problem?.detail ?? 'Rigore does not answer')
}
