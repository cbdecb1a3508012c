import createClient from 'openapi-fetch'
import { ask } from './known'
import type { components, paths } from './schema.gen'

export type Schema = components['schemas']

/** What the server answers when it refuses: a sentence, and a path to each wrong field. */
export interface Problem {
  title: string
  status: number
  detail: string
  errors?: { path: string; message: string }[]
  current?: unknown
}

/** A refusal of the server, or no answer at all (status 0). */
export class Refusal extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
  get status() {
    return this.problem.status
  }
  /** The sentence for a field, if there is one. */
  at(path: string): string | undefined {
    return this.problem.errors?.find((e) => e.path === path)?.message
  }
  /** The sentences by field. */
  fields(): Record<string, string> {
    return Object.fromEntries((this.problem.errors ?? []).map((e) => [e.path, e.message]))
  }
}

/** Whether the book may not have heard of it: no answer, a failing server, a session that is over. It is to be sent again. */
export const wasLost = (error: unknown) =>
  !(error instanceof Refusal) || [0, 401, 429].includes(error.status) || error.status >= 500

const offline: Problem = {
  title: 'No connection',
  status: 0,
  detail: 'there is no connection to the book; what you typed stays here, try again when it is back',
}

/** A key that nobody else has. Also over plain HTTP, where a browser has no randomUUID. */
export function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, '0')).join('')
}

/** Tells this window from the others, so that it need not be told of its own changes. */
export const windowName = newKey()

/** Has the person sign in again where the session is over, and says whether they did. */
let signInAgain: (() => Promise<boolean>) | undefined
export const onSessionOver = (again: () => Promise<boolean>) => void (signInAgain = again)

export const client = createClient<paths>({
  headers: { 'x-window': windowName },
  fetch: async (request) => {
    try {
      const again = request.clone()
      const response = await ask(request)
      const over = response.status === 401 && signInAgain && !new URL(request.url).pathname.endsWith('/api/session')
      return over && (await signInAgain!()) ? await fetch(again) : response
    } catch {
      return new Response(JSON.stringify(offline), {
        status: 503,
        headers: { 'content-type': 'application/problem+json' },
      })
    }
  },
})

/** The body of an answer; a refusal is thrown. */
export async function answered<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await call
  if (response.ok && data !== undefined) return data
  const problem = (error ?? {}) as Partial<Problem>
  throw new Refusal({
    title: problem.title ?? 'Refused',
    status: problem.status ?? response.status,
    detail: problem.detail ?? 'the book did not answer',
    errors: problem.errors,
    current: problem.current,
  })
}

/** The key of something that may have to be sent again: the same for the same, until it is done. */
export function retryKey() {
  let [key, of] = ['', '']
  return {
    for(content: unknown): string {
      const now = JSON.stringify(content)
      if (now !== of) [key, of] = [newKey(), now]
      return key
    },
    done: () => (of = ''),
  }
}
