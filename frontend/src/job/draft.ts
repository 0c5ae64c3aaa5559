/** What is typed but not yet stored, kept in the browser so that nothing is lost. */
import type { Design } from '../api/types'

export interface Heading {
  title: string
  code: string
  customer: string
}
export interface Draft extends Heading {
  basedOn: number
  design: Design
}

// Version 2: identities and rules. A draft of version 1 is of a design the server no longer takes.
const key = (id: number) => `olvask.draft2.${id}`

export function keepDraft(id: number, draft: Draft): void {
  try {
    localStorage.setItem(key(id), JSON.stringify(draft))
  } catch {
    // A full or forbidden local storage only loses the safety copy; the screen still holds the entry.
  }
}

export function dropDraft(id: number): void {
  localStorage.removeItem(key(id))
}

export function keptDraft(id: number): Draft | null {
  const text = localStorage.getItem(key(id))
  if (text === null) return null
  try {
    return JSON.parse(text) as Draft
  } catch {
    return null
  }
}
