// The typed client of Rigore's API. Who asks goes with every request.
import createClient, { type Middleware } from 'openapi-fetch'
import { person } from '../ui/preferences'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Problem = Schemas['Problem']

const who: Middleware = {
  onRequest({ request }) {
    if (!request.headers.has('x-rigore-person')) request.headers.set('x-rigore-person', person.value)
    return request
  },
}

export const api = createClient<paths>({ baseUrl: '/' })
api.use(who)

/** A refusal by the server, with the fields at fault. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
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
