/** Long answers told line by line: shares done, then the report. */
import { refusal, Unreachable } from './client'

interface Told<T> {
  done: number
  report?: T | null
}

/** Ask for a long answer; `told` hears each share done. Rejects with `AbortError` once the signal says so. */
export async function streamed<T>(
  path: string,
  body: unknown,
  told: (done: number) => void,
  signal: AbortSignal,
): Promise<T> {
  let response: Response
  try {
    response = await fetch(path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
      signal,
    })
  } catch (error) {
    if (signal.aborted) throw error
    throw new Unreachable('The server does not answer.')
  }
  if (!response.ok || response.body === null) throw refusal(await response.json(), response.status)
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  for (;;) {
    const { done, value } = await reader.read()
    rest += value ?? ''
    const lines = rest.split('\n')
    rest = lines.pop() ?? ''
    for (const line of lines) {
      const found = JSON.parse(line) as Told<T>
      told(found.done)
      if (found.report) return found.report
    }
    if (done) throw new Unreachable('The answer broke off.')
  }
}
