/** Whether the server answers, and as of when what is shown was kept on this device. */
import { shallowRef } from 'vue'
import { AS_OF, canHold } from './held'

/** As of when the last answer was kept; `null` where it came from the server. */
export const asOf = shallowRef<Date | null>(null)

/** Look at an answer: one that was kept says so. */
export function looked(answer: Response): void {
  const said = answer.headers.get(AS_OF)
  if (said === null) asOf.value = null
  else asOf.value = new Date(said)
}

/** This device can hold the program too. */
export const canKeep = canHold && 'serviceWorker' in navigator
export async function register(): Promise<void> {
  if (!canKeep || !import.meta.env.PROD) return
  await navigator.serviceWorker.register('/sw.js').catch(() => undefined)
}
