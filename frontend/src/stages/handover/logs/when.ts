/** Moments of a log in the reader's own time. */
import { clock, date } from '../../../ui/locale'

/** Date and time of a moment, to the second where wanted. */
export function moment(seconds: number, exact = false): string {
  const at = new Date(seconds * 1000)
  const second = exact ? `:${String(at.getSeconds()).padStart(2, '0')}` : ''
  return `${date(at)} ${clock(at)}${second}`
}

/** How long something lasted, in the unit a person would say. */
export function lasting(seconds: number): string {
  if (seconds < 120) return `${Math.round(seconds)} s`
  if (seconds < 7200) return `${Math.round(seconds / 60)} min`
  if (seconds < 172_800) return `${Math.round(seconds / 3600)} h`
  return `${Math.round(seconds / 86_400)} days`
}
