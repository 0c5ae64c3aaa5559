/** The one place that talks to the server. */
import createClient from 'openapi-fetch'
import type { paths } from './schema.gen'
import { heard } from './clock'
import { made, madeBy } from './repeated'
import type { Problem } from './types'
import { localised } from '../ui/locale'
import { heldFetch } from '../vehicle/held'
import { looked } from '../vehicle/signal'
import { signedOut } from './signedIn'

export const client = createClient<paths>({ baseUrl: '', fetch: (request) => madeBy(request, heldFetch) })

/** The server could not be reached at all. */
export class Unreachable extends Error {}

/** The server refused; `problem` says why and where. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

/** What was refused, whatever of it the server said. */
export function refusal(said: unknown, status: number): Refused {
  const blank: Problem = {
    type: 'about:blank',
    title: 'Refused',
    status,
    detail: 'The server refused without saying why.',
    errors: [],
  }
  return new Refused({ ...blank, ...(said as Partial<Problem> | undefined), status })
}

/** Why something failed, in a sentence: the server's own, or what to say where it does not answer. */
export function whyOf(error: unknown, away: string): string {
  return error instanceof Refused ? (error.problem.errors?.[0]?.message ?? error.problem.detail) : away
}

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** Await an answer; throws `Unreachable` or `Refused`. */
export async function answered<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await request
  } catch {
    throw new Unreachable('The server does not answer.')
  }
  looked(answer.response)
  heard(answer.response)
  if (answer.data !== undefined) return localised(answer.data)
  if (answer.response.status === 401) signedOut()
  throw refusal(localised(answer.error), answer.response.status)
}

/** Send a file or text as it is; its answer, or thrown what `answered` throws. Rejects with `AbortError` once the signal
 *  says so. */
export async function posted(path: string, body: Blob | string, type: string, signal?: AbortSignal): Promise<Response> {
  let response: Response
  try {
    response = await made(
      path,
      () => (typeof body === 'string' ? Promise.resolve(body) : body.text()),
      (more) => {
        const asked = { method: 'POST', headers: { 'Content-Type': type, ...more }, body }
        return fetch(path, signal ? { ...asked, signal } : asked)
      },
    )
  } catch (error) {
    if (signal?.aborted) throw error
    throw new Unreachable('The server does not answer.')
  }
  if (response.ok) return response
  if (response.status === 401) signedOut()
  const said: unknown = await response.json().catch(() => undefined) // whoever stands between may say no JSON
  throw refusal(localised(said), response.status)
}
