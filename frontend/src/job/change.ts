/** Changes of a design, and what becomes of where its values came from. */
import type { Design } from '../api/types'
import { getAt, setAt } from './path'

export interface Change {
  path: string
  value: unknown
}

const LISTS = ['supply.pieces', 'delivery.pieces', 'vehicle.lifters', 'existing', 'use.loads', 'auxiliary.strings']

/** The design with changes made; what is said of where values came from stays with its thing and goes with it. */
export function changed(design: Design, changes: readonly Change[]): Design {
  let next = design
  for (const item of changes) next = setAt(next, item.path, item.value)
  return withoutLost(design, next)
}

/** Forget where values of vanished things came from, and of lengths that a split has halved. */
function withoutLost(before: Design, after: Design): Design {
  const kept = Object.entries(after.provenance ?? {}).filter(([path]) => {
    const list = LISTS.find((item) => path.startsWith(`${item}.`))
    if (list === undefined) return true
    const value = getAt(after, path)
    if (value === undefined) return false
    return list.endsWith('.pieces') && before[list.startsWith('supply') ? 'supply' : 'delivery'] !== undefined
      ? !halved(before, after, path, value)
      : true
  })
  if (kept.length === Object.keys(after.provenance ?? {}).length) return after
  return { ...after, provenance: Object.fromEntries(kept) }
}

/** Whether a measured length is another one since its run's pieces were laid anew. */
function halved(before: Design, after: Design, path: string, value: unknown): boolean {
  const same = before.provenance?.[path] === after.provenance?.[path]
  const was = getAt(before, path)
  const run = path.startsWith('supply') ? 'supply' : 'delivery'
  const longer = (after[run]?.pieces?.length ?? 0) > (before[run]?.pieces?.length ?? 0)
  return path.endsWith('.length_m') && same && longer && was !== undefined && was !== value
}
