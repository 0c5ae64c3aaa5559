/** Long answers told line by line: shares done, then the report. */
import { localised } from '../ui/locale'
import { refusal, Unreachable } from './client'

interface Told<T> {
  done: number
  report?: T | null
}

const TRIES = 20
const AGAIN_MS = 1500

async function asked(path: string, body: unknown, signal: AbortSignal): Promise<Response> {
  try {
    const file = body instanceof Blob
    const headers = { 'Content-Type': file ? 'text/csv' : 'application/json' }
    return await fetch(path, { method: 'POST', headers, body: file ? body : JSON.stringify(body), signal })
  } catch (error) {
    if (signal.aborted) throw error
    throw new Unreachable('The server does not answer.')
  }
}

/** Ask for an answer told line by line, of a file or of plain data; yields each. Rejects with `AbortError` once the signal says so. */
export async function* told<T>(path: string, body: unknown, signal: AbortSignal): AsyncGenerator<T, void> {
  let response = await asked(path, body, signal)
  for (let tries = 0; response.status === 503 && tries < TRIES; tries += 1) {
    await new Promise((resolve) => setTimeout(resolve, AGAIN_MS)) // other long questions first
    response = await asked(path, body, signal)
  }
  if (!response.ok || response.body === null) throw refusal(await response.json(), response.status)
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
