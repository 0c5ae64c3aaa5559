/** The arrow keys in an entry of a number. */
import { plainNumber } from './number'

/** What an entry comes to by a key: a step more or less; `null` where the key means nothing there. */
export function stepped(
  event: Pick<KeyboardEvent, 'key' | 'preventDefault'>,
  text: string,
  step: number,
): number | null {
  if (step === 0 || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return null
  event.preventDefault()
  const from = plainNumber(text)
  return from === null ? null : Math.round((from + (event.key === 'ArrowUp' ? step : -step)) * 1000) / 1000
}
