/**
 * What the first screen will ask, asked before that screen is there. Each answer is taken once, and only while it is
 * fresh; whoever comes later, or asks something else, asks anew.
 */
const FRESH_MS = 10_000 // a slow device reads the screens in less; our own estimate
interface Ahead {
  answer: Promise<unknown>
  come?: unknown
  at: number
}
const underWay = new Map<string, Ahead>()

/** Ask now what will be asked as `name`; settles when it has been answered, whatever the answer. */
export async function askAhead(name: string, ask: () => Promise<unknown>): Promise<void> {
  const ahead: Ahead = { answer: ask(), at: performance.now() }
  underWay.set(name, ahead)
  await ahead.answer.then(
    (answer) => (ahead.come = answer),
    () => undefined, // whoever takes it is told
  )
}

function taken(name: string): Ahead | undefined {
  const found = underWay.get(name)
  underWay.delete(name)
  return found !== undefined && performance.now() - found.at < FRESH_MS ? found : undefined
}

/** The answer that is under way, or else one asked for now. */
export function asked<T>(name: string, ask: () => Promise<T>): Promise<T> {
  return (taken(name)?.answer as Promise<T> | undefined) ?? ask()
}

/** The answer where it has come already; one that is still on its way is left to who waits for it. */
export function atHand<T>(name: string): T | undefined {
  return underWay.get(name)?.come === undefined ? undefined : (taken(name)?.come as T | undefined)
}
