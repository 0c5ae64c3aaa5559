/** Whether the server answers, and as of when what is shown was kept on this device. */
import { shallowRef } from 'vue'

/** As of when the last answer was kept; `null` where it came from the server. */
export const asOf = shallowRef<Date | null>(null)

/** Look at an answer: one that was kept says so. */
export function looked(answer: Response): void {
  const said = answer.headers.get('x-olvask-as-of')
  if (said === null) asOf.value = null
  else asOf.value = new Date(said)
}

/** Questions of a design whose answers a device keeps. */
export const OF_A_DESIGN = [
  'assess',
  'remedies',
  'build/procedure',
  'build/diagram',
  'build/mount',
  'buying',
  'figures',
  'methods',
]
/** All that is posted and changes nothing, so that it may be asked twice. */
const QUESTIONS = new Set([...OF_A_DESIGN, 'prove', 'settings/sheet'].map((name) => `/api/${name}`))
/** What is posted so that this device keeps the answer, or has it from what it kept, has this after its address. */
export const ASIDE = '?held'
/**
 * Ask the server straight away, past the worker that holds what was kept: it is asked only where the server cannot be
 * reached. At every keypress that detour was a tenth of the wait.
 */
export async function asked(request: Request): Promise<Response> {
  const kept = QUESTIONS.has(new URL(request.url).pathname) && controlled() ? request.clone() : undefined
  try {
    return await fetch(request)
  } catch (error) {
    if (kept === undefined || kept.signal.aborted) throw error
    const headers = new Headers(kept.headers)
    headers.set('x-olvask-held', '1')
    return fetch(kept.url + ASIDE, { method: 'POST', headers, body: await kept.text(), signal: kept.signal })
  }
}
const controlled = () => canKeep && navigator.serviceWorker.controller !== null

/** This device can hold the program: over TLS, or on this machine itself. */
export const canKeep = typeof navigator !== 'undefined' && 'serviceWorker' in navigator && window.isSecureContext
export async function register(): Promise<void> {
  if (!canKeep || !import.meta.env.PROD) return
  await navigator.serviceWorker.register('/sw.js').catch(() => undefined)
}
/** Nothing of any job stays on this device. */
export async function forget(): Promise<void> {
  if (canKeep) await caches.delete('olvask-kept')
}
