/**
 * What the first screen will ask, asked before that screen is there. Each answer is taken once; whoever comes later, or
 * asks something else, asks anew.
 */
const underWay = new Map<string, Promise<unknown>>()

/** Ask now what will be asked as `name`. */
export function askAhead(name: string, ask: () => Promise<unknown>): void {
  const answer = ask()
  answer.catch(() => undefined) // whoever takes it is told
  underWay.set(name, answer)
}

/** The answer that is under way, or else one asked for now. */
export function asked<T>(name: string, ask: () => Promise<T>): Promise<T> {
  const answer = underWay.get(name) as Promise<T> | undefined
  underWay.delete(name)
  return answer ?? ask()
}
