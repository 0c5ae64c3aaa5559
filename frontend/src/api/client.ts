/** The one place that talks to the server. */
import createClient from 'openapi-fetch'
import type { paths } from './schema.gen'
import type { Problem } from './types'

export const client = createClient<paths>({ baseUrl: '' })

/** The server could not be reached at all. */
export class Unreachable extends Error {}

/** The server refused; `problem` says why and where. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
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
  if (answer.data !== undefined) return answer.data
  const problem = answer.error as Partial<Problem> | undefined
  throw new Refused({
    title: problem?.title ?? 'Refused',
    status: answer.response.status,
    detail: problem?.detail ?? 'The server refused without saying why.',
    faults: problem?.faults ?? [],
    stored: problem?.stored,
  })
}
