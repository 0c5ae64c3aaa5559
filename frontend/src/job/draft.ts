/** What is typed but not yet stored, kept in the browser so that nothing is lost: by job and by tab. */
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
const PREFIX = 'olvask.draft2.'
const TAB_KEY = 'olvask.tab'
const lockOf = (tab: string) => `olvask.tab.${tab}`
const fresh = () => Math.random().toString(36).slice(2, 10)
let tab = ''

/** Reading and writing may be forbidden altogether. */
function quietly<T>(work: () => T, otherwise: T): T {
  try {
    return work()
  } catch {
    return otherwise
  }
}

/** Hold this tab's name for as long as it lives; a tab made by copying another takes a name of its own. */
async function settleTab(): Promise<void> {
  if (tab !== '') return
  tab = quietly(() => sessionStorage.getItem(TAB_KEY), null) ?? fresh()
  const held = await hold(tab)
  if (!held) {
    tab = fresh()
    await hold(tab)
  }
  quietly(() => {
    sessionStorage.setItem(TAB_KEY, tab)
  }, undefined)
}
function hold(name: string): Promise<boolean> {
  if (!('locks' in navigator)) return Promise.resolve(true)
  return new Promise((settled) => {
    navigator.locks
      .request(lockOf(name), { ifAvailable: true }, (lock) => {
        settled(lock !== null)
        return lock === null ? undefined : new Promise(() => undefined) // held until the tab goes
      })
      .catch(() => {
        settled(true)
      })
  })
}
async function livingTabs(): Promise<Set<string>> {
  if (!('locks' in navigator)) return new Set()
  const { held = [] } = await navigator.locks.query()
  return new Set(held.map((lock) => (lock.name ?? '').replace(lockOf(''), '')))
}

const keyOf = (id: number, name = tab) => `${PREFIX}${id}.${name}`
/** Job and tab of a key; of keys from before tabs were told apart the tab is empty. */
function partsOf(key: string): { id: number; name: string } | null {
  if (!key.startsWith(PREFIX)) return null
  const [id = '', name = ''] = key.slice(PREFIX.length).split('.')
  return Number.isInteger(Number(id)) && id !== '' ? { id: Number(id), name } : null
}

/** Keep a draft; false where the browser has no room for it or forbids it. */
export function keepDraft(id: number, draft: Draft): boolean {
  return quietly(() => {
    localStorage.setItem(keyOf(id), JSON.stringify(draft))
    return true
  }, false)
}

export function dropDraft(id: number): void {
  quietly(() => {
    localStorage.removeItem(keyOf(id))
  }, undefined)
}

function isDraft(found: unknown): found is Draft {
  if (typeof found !== 'object' || found === null) return false
  const { title, design, basedOn } = found as Partial<Draft>
  if (typeof title !== 'string' || typeof basedOn !== 'number' || typeof design !== 'object') return false
  const { vehicle, supply, delivery } = (design as Design | null) ?? ({} as Partial<Design>)
  const run = (part: unknown) => part === undefined || (typeof part === 'object' && part !== null)
  return typeof vehicle === 'object' && typeof vehicle.alternator === 'object' && run(supply) && run(delivery)
}

function read(key: string): Draft | null {
  const text = quietly(() => localStorage.getItem(key), null)
  if (text === null) return null
  const found: unknown = quietly(() => JSON.parse(text) as unknown, null)
  if (isDraft(found)) return { ...found, code: String(found.code), customer: String(found.customer) }
  quietly(() => {
    localStorage.setItem(`olvask.spoilt.${key}`, text) // it opens nothing, yet is not thrown away
    localStorage.removeItem(key)
  }, undefined)
  return null
}

function keys(): string[] {
  return quietly(() => Object.keys(localStorage), [])
}

/** This tab's draft of a job, or one that a tab no longer open has left; that one is taken over. */
export async function keptDraft(id: number): Promise<Draft | null> {
  await settleTab()
  const mine = read(keyOf(id))
  if (mine !== null) return mine
  const living = await livingTabs().catch(() => new Set<string>())
  for (const key of keys()) {
    const parts = partsOf(key)
    if (parts?.id !== id || living.has(parts.name)) continue
    const left = read(key)
    if (left === null) continue
    keepDraft(id, left)
    quietly(() => {
      localStorage.removeItem(key)
    }, undefined)
    return left
  }
  return null
}

/** Jobs of which this browser keeps entries that are not stored yet. */
export function jobsKept(): Set<number> {
  return new Set(keys().flatMap((key) => partsOf(key)?.id ?? []))
}
