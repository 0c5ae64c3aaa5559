/** Exercises by name: where each is done, and which comes next. */
export type DrillKind = 'thresholds' | 'size' | 'isolation' | 'fuse' | 'keeps_up' | 'order' | 'log'

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
