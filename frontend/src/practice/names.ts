/** Exercises by name: where each is done, and which comes next. */
import { measured } from '../ui/format'

const DECIMALS: Record<string, number> = { V: 2, mV: 1, A: 1, mA: 0, s: 0, '°C': 0 }
/** A reading with the digits a meter shows. */
export const reading = (value: number, unit: string): string => measured(value, unit, DECIMALS[unit] ?? 2)

/** Where an exercise is done, such as “case 3-17” or “size 4”. */
export function addressOf(name: string): string {
  const [kind = '', which = ''] = name.split(' ')
  return kind === 'case' ? `/practice/case/${which}` : `/practice/drill/${kind}/${which}`
}
/** The first number nobody of this name has done yet. */
export function nextNumber(done: readonly string[], prefix: string): number {
  const numbers = new Set(
    done.filter((name) => name.startsWith(prefix)).map((name) => Number(name.slice(prefix.length))),
  )
  let number = 1
  while (numbers.has(number)) number += 1
  return number
}
/** Minutes as an installer says them. */
export function spent(minutes: number): string {
  const whole = Math.round(minutes)
  return whole < 60 ? `${String(whole)} min` : `${String(Math.floor(whole / 60))} h ${String(whole % 60)} min`
}
