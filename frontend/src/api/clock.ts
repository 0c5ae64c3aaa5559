/** The server's time: what phones note is put in order with what others noted, and not every phone's clock is right. */
import { AS_OF } from '../vehicle/held'

const NEAR_MS = 60_000 // answers take their time; nobody notes so fast that less would turn the order about. Our own estimate
let off_ms = 0

/** Hear an answer of the server's: what time it is there (`Date`, RFC 9110). One that was kept on this device tells nothing. */
export function heard(answer: Response): void {
  const there = Date.parse(answer.headers.get('date') ?? '')
  if (Number.isNaN(there) || answer.headers.has(AS_OF)) return
  const off = there - Date.now()
  off_ms = Math.abs(off) < NEAR_MS ? 0 : off
}

/** What is noted now bears this; out of reach by what the clock was off when the server was last heard. */
export const notedAt = (): string => new Date(Date.now() + off_ms).toISOString()
