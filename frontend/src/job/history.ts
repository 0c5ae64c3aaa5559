/** What undo takes back: snapshots of the design and its heading, typing in one field counted as one step. */
import { shallowRef, type ShallowRef } from 'vue'
import type { Design } from '../api/types'
import type { Heading } from './draft'

export interface Snapshot {
  design: Design
  heading: Heading
}
export interface History {
  past: ShallowRef<Snapshot[]>
  future: ShallowRef<Snapshot[]>
  /** Keep what stands before a change; changes merged under one name within a breath are one step. */
  remember: (now: Snapshot, mergeAs: string) => void
  /** The snapshot to go back to, what stands now kept to come forward again; none at the beginning. */
  back: (now: Snapshot) => Snapshot | null
  forward: (now: Snapshot) => Snapshot | null
  forget: () => void
}

const MERGE_MS = 900
const KEPT = 200

export function useHistory(clock: () => number = Date.now): History {
  const past = shallowRef<Snapshot[]>([])
  const future = shallowRef<Snapshot[]>([])
  let last = { name: '', at: 0 }
  function remember(now: Snapshot, mergeAs: string): void {
    const at = clock()
    const same = mergeAs !== '' && mergeAs === last.name && at - last.at < MERGE_MS
    last = { name: mergeAs, at }
    if (same) return
    past.value = [...past.value.slice(-KEPT), now]
    future.value = []
  }
  function swap(from: ShallowRef<Snapshot[]>, to: ShallowRef<Snapshot[]>, now: Snapshot): Snapshot | null {
    const snapshot = from.value.at(-1)
    if (snapshot === undefined) return null
    to.value = [...to.value, now]
    from.value = from.value.slice(0, -1)
    last = { name: '', at: 0 }
    return snapshot
  }
  return {
    past,
    future,
    remember,
    back: (now) => swap(past, future, now),
    forward: (now) => swap(future, past, now),
    forget: () => {
      past.value = []
      future.value = []
    },
  }
}
