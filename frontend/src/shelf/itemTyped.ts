/** A shelf item half typed, kept while this tab lives: it outlives a reload. */
import type { Kind } from './kinds'

export interface HalfTyped {
  kind: Kind
  /** The item that is changed or cloned; empty for a new one. */
  of: string
  clone: boolean
  number: string
  entries: Record<string, unknown>
}

const KEY = 'olvask.shelf.typed'

export function keepTyped(typed: HalfTyped | null): void {
  try {
    if (typed === null) sessionStorage.removeItem(KEY)
    else sessionStorage.setItem(KEY, JSON.stringify(typed))
  } catch {
    return // the browser keeps nothing: the dialog still does
  }
}

/** What is kept, if it is of this kind. */
export function keptTyped(kind: Kind): HalfTyped | null {
  try {
    const found = JSON.parse(sessionStorage.getItem(KEY) ?? 'null') as HalfTyped | null
    return found?.kind === kind && typeof found.number === 'string' && typeof found.entries === 'object' ? found : null
  } catch {
    return null
  }
}
