/** Answers asked for ahead: who steps through sizes finds the next one judged before the key is pressed. */
import type { Assessment, Design } from '../api/types'

interface Ahead {
  answer?: Assessment
  coming: Promise<Assessment>
}

export interface Foreseen {
  /** What a draft's answer is, where it was asked for ahead: at once, or as it comes; each serves once. */
  take: (design: Design) => Assessment | Promise<Assessment> | undefined
  /** Have the answers of these drafts at hand and of no others: asked for in this order, each once the last has come. */
  look: (judged: Design, assessment: Assessment, designs: readonly Design[]) => void
}

export function useForeseen(ask: (design: Design) => Promise<Assessment>): Foreseen {
  let ahead = new Map<string, Ahead>()
  function take(design: Design): Assessment | Promise<Assessment> | undefined {
    if (ahead.size === 0) return undefined
    const name = JSON.stringify(design)
    const found = ahead.get(name)
    ahead.delete(name)
    return found?.answer ?? found?.coming
  }
  function look(judged: Design, assessment: Assessment, designs: readonly Design[]): void {
    const before = ahead
    ahead = new Map([[JSON.stringify(judged), { answer: assessment, coming: Promise.resolve(assessment) }]])
    let last: Promise<unknown> = Promise.resolve()
    for (const design of designs) {
      const name = JSON.stringify(design)
      if (ahead.has(name)) continue
      const found: Ahead = before.get(name) ?? { coming: last.then(() => ask(design)) }
      found.coming.then(
        (answer) => (found.answer = answer),
        () => {
          if (ahead.get(name) === found) ahead.delete(name) // it is asked again when it is wanted
        },
      )
      last = found.coming.catch(() => undefined)
      ahead.set(name, found)
    }
  }
  return { take, look }
}
