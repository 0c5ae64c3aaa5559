/** Long answers told line by line: shares done, then the report. */
import { localised } from '../ui/locale'
import { posted, Refused, Unreachable } from './client'

interface Told<T> {
  done: number
  report?: T | null
}

const TRIES = 20
const AGAIN_MS = 1500

/** Ask; where other long questions are being answered, again in a moment. */
async function asked(path: string, body: unknown, signal: AbortSignal): Promise<Response> {
  const [what, type] = body instanceof Blob ? [body, 'text/csv'] : [JSON.stringify(body), 'application/json']
  for (let tries = 0; ; tries += 1) {
    try {
      return await posted(path, what, type, signal)
    } catch (error) {
      if (!(error instanceof Refused) || error.problem.status !== 503 || tries === TRIES) throw error
    }
    await new Promise((resolve) => setTimeout(resolve, AGAIN_MS))
  }
}

/** Ask for an answer told line by line, of a file or of plain data; yields each. Rejects with `AbortError` once the signal says so. */
export async function* told<T>(path: string, body: unknown, signal: AbortSignal): AsyncGenerator<T, void> {
  const response = await asked(path, body, signal)
  if (response.body === null) throw new Unreachable('The server does not answer.')
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  for (;;) {
    const { done, value } = await reader.read()
    rest += value ?? ''
    const lines = rest.split('\n')
    rest = lines.pop() ?? ''
    for (const line of lines) yield localised(JSON.parse(line) as T)
    if (done) return
  }
}

/** Ask for a long answer; `heard` hears each share done. Rejects with `AbortError` once the signal says so. */
export async function streamed<T>(
  path: string,
  body: unknown,
  heard: (done: number) => void,
  signal: AbortSignal,
): Promise<T> {
  for await (const line of told<Told<T>>(path, body, signal)) {
    heard(line.done)
    if (line.report) return line.report
  }
  throw new Unreachable('The answer broke off.')
}
