/** What is made gets a name of its own, and the same one when it is asked for again because no answer came. */
import { identity } from '../ui/identity'

const HEADER = 'Idempotency-Key'
const MAKES = /^\/api\/(jobs(\/import|\/\d+\/(next|options|quotes))?|instruments|log-kinds|people|practice\/sets)$/
const unanswered = new Map<string, string>()

/** Ask for something to be made; `ask` asks with these headers. What was asked before and never answered keeps its name. */
export async function made(
  path: string,
  what: () => Promise<string>,
  ask: (more: Record<string, string>) => Promise<Response>,
): Promise<Response> {
  if (!MAKES.test(path)) return ask({})
  const asked = `${path} ${await what()}`
  const name = unanswered.get(asked) ?? identity()
  unanswered.set(asked, name)
  const answer = await ask({ [HEADER]: name }) // where none comes, the name stays
  if (answer.status < 500) unanswered.delete(asked)
  return answer
}

/** The same of a request as it is. */
export function madeBy(request: Request, ask: (request: Request) => Promise<Response>): Promise<Response> {
  if (request.method !== 'POST') return ask(request)
  return made(
    new URL(request.url).pathname,
    () => request.clone().text(),
    (more) => {
      for (const [name, value] of Object.entries(more)) request.headers.set(name, value)
      return ask(request)
    },
  )
}
