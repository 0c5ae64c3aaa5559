/** Saves that were sent and never answered: each may have been stored all the same. */
import { hashKey } from '@tanstack/vue-query'
import type { Design } from '../api/types'
import type { Heading } from './draft'

export interface Saved extends Heading {
  design: Design
}
export interface Unanswered {
  sent: (job: number, what: Saved) => void
  /** An answer came: whatever was sent before is settled with it. */
  answered: () => void
  /** Whether what is stored is one of those. */
  holds: (job: number, stored: Saved) => boolean
}

const MOST = 20 // it is sent anew every few seconds; what was typed between them differs

/** What two saves of the same have in common. */
export const named = ({ title, code, customer, design }: Saved): string => hashKey([title, code, customer, design])

export function useUnanswered(): Unanswered {
  let of = 0
  let waiting: Saved[] = []
  return {
    sent: (job, what) => {
      if (job !== of) waiting = []
      of = job
      if (waiting.at(-1)?.design !== what.design) waiting = [...waiting.slice(1 - MOST), what]
    },
    answered: () => {
      waiting = []
    },
    holds: (job, stored) => job === of && waiting.some((what) => named(what) === named(stored)),
  }
}
