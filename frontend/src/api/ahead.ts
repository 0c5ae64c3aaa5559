/**
 * What the first screen will ask, asked before that screen is there. Each answer is taken once, and only while it is
 * fresh; whoever comes later, or asks something else, asks anew.
 */
const FRESH_MS = 10_000 // a slow device reads the screens in less; our own estimate
const underWay = new Map<string, { answer: Promise<unknown>; at: number }>()

/** Ask now what will be asked as `name`. */
export function askAhead(name: string, ask: () => Promise<unknown>): void {
  const answer = ask()
  answer.catch(() => undefined) // whoever takes it is told
  underWay.set(name, { answer, at: performance.now() })
}

/** The answer that is under way, or else one asked for now. */
export function asked<T>(name: string, ask: () => Promise<T>): Promise<T> {
  const found = underWay.get(name)
  underWay.delete(name)
  const fresh = found !== undefined && performance.now() - found.at < FRESH_MS
  return fresh ? (found.answer as Promise<T>) : ask()
}
