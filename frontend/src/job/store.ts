/** The job on the screen: its draft, what the core says of it, undo, and saving. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { answered, client, Refused, Unreachable } from '../api/client'
import type { Assessment, ConditionLine, ConditionKey, Design, Fault, Finding, Job } from '../api/types'
import { dropDraft, keepDraft, keptDraft } from './draft'
import { getAt, setAt } from './path'

export interface Heading {
  title: string
  code: string
  customer: string
}
export interface Change {
  path: string
  value: unknown
}
export type SaveState = 'saved' | 'saving' | 'waiting' | 'offline' | 'stale' | 'invalid'

interface Snapshot {
  design: Design
  heading: Heading
}

const MERGE_MS = 900
const SAVE_AFTER_MS = 350
const RETRY_MS = 3000
const KEPT = 200

/** A typed entry as the design holds it: a number where it reads as one, nothing where it is empty, else the text. */
export function readEntry(text: string): number | string | null {
  const plain = text.trim().replace(',', '.')
  return plain === '' ? null : Number.isFinite(Number(plain)) ? Number(plain) : text
}

export const useJob = defineStore('job', () => {
  const id = ref(0)
  const version = ref(0)
  const design = shallowRef<Design | null>(null)
  const heading = shallowRef<Heading>({ title: '', code: '', customer: '' })
  const assessment = shallowRef<Assessment | null>(null)
  const faults = shallowRef<Map<string, Fault>>(new Map())
  const saveState = ref<SaveState>('saved')
  const savedAt = shallowRef<Date | null>(null)
  const stored = shallowRef<Job | null>(null)
  const trouble = ref('')
  const past = shallowRef<Snapshot[]>([])
  const future = shallowRef<Snapshot[]>([])
  const place = ref('charger')
  const condition = ref<ConditionKey>('idle')
  const assessed = ref(0)

  let lastPath = ''
  let lastAt = 0
  let asking = false
  let askAgain = false
  let saveTimer = 0
  let saving = false

  const pieceFacts = computed(() => new Map((assessment.value?.pieces ?? []).map((item) => [item.place, item])))
  const moment = shallowRef<ConditionLine | null>(null) // a moment of a road test, shown instead of a condition
  const line = computed(() => moment.value ?? assessment.value?.conditions.find((item) => item.key === condition.value) ?? assessment.value?.conditions[0] ?? null)

  async function open(wanted: number): Promise<void> {
    trouble.value = ''
    design.value = null
    assessment.value = null
    const job = await answered(client.GET('/api/jobs/{job_id}', { params: { path: { job_id: wanted } } }))
    id.value = wanted
    take(job)
    await assess() // what is stored can always be drawn, even under a draft that cannot
    const kept = keptDraft(wanted)
    if (kept !== null) {
      design.value = kept.design
      heading.value = { title: kept.title, code: kept.code, customer: kept.customer }
      saveState.value = 'waiting'
      if (kept.basedOn !== job.version) {
        stored.value = job
        version.value = kept.basedOn
        saveState.value = 'stale'
      }
      await assess()
    }
  }

  function take(job: Job): void {
    version.value = job.version
    design.value = job.design
    heading.value = { title: job.title, code: job.code, customer: job.customer }
    savedAt.value = new Date(`${job.saved_at}Z`)
    saveState.value = 'saved'
    stored.value = null
    faults.value = new Map()
    past.value = []
    future.value = []
    place.value = 'charger'
  }

  function remember(path: string): void {
    if (design.value === null) return
    const now = Date.now()
    if (path !== '' && path === lastPath && now - lastAt < MERGE_MS) {
      lastAt = now
      return
    }
    lastPath = path
    lastAt = now
    past.value = [...past.value.slice(-KEPT), { design: design.value, heading: heading.value }]
    future.value = []
  }

  /** Change the design in one step that undo takes back as one; typing in one field counts as one step. */
  function change(changes: readonly Change[], mergeAs = ''): void {
    if (design.value === null || changes.length === 0) return
    remember(mergeAs)
    let next = design.value
    for (const item of changes) next = setAt(next, item.path, item.value)
    settle(next, heading.value)
  }

  function rename(part: Partial<Heading>): void {
    remember(`heading.${Object.keys(part).join()}`)
    if (design.value !== null) settle(design.value, { ...heading.value, ...part })
  }

  function settle(next: Design, head: Heading): void {
    design.value = next
    heading.value = head
    keepDraft(id.value, { basedOn: version.value, ...head, design: next })
    if (saveState.value !== 'stale') saveState.value = 'waiting'
    void assess()
  }

  /** Put a typed entry at a path: a number where it reads as one, else the text itself for the server to judge. */
  function enter(path: string, text: string, provenance?: string): void {
    const value = readEntry(text)
    const changes: Change[] = [{ path, value }]
    if (provenance !== undefined) changes.push({ path: 'provenance', value: withProvenance(path, value === null ? null : provenance) })
    change(changes, path)
  }

  function withProvenance(path: string, word: string | null): Record<string, string> {
    const others = Object.entries(design.value?.provenance ?? {}).filter(([key]) => key !== path)
    return Object.fromEntries(word === null ? others : [...others, [path, word]])
  }

  function apply(finding: Finding, index: number): void {
    const way = finding.ways_out?.[index]
    if (way !== undefined) change(way.changes.map((item) => ({ path: item.path, value: item.value })))
  }

  function swap(from: typeof past, to: typeof past): void {
    const snapshot = from.value.at(-1)
    if (snapshot === undefined || design.value === null) return
    to.value = [...to.value, { design: design.value, heading: heading.value }]
    from.value = from.value.slice(0, -1)
    lastPath = ''
    settle(snapshot.design, snapshot.heading)
  }
  const undo = () => swap(past, future)
  const redo = () => swap(future, past)

  /** Ask the core; while one question is under way the newest draft waits its turn. */
  async function assess(): Promise<void> {
    if (asking) {
      askAgain = true
      return
    }
    asking = true
    do {
      askAgain = false
      const asked = design.value
      if (asked === null) break
      try {
        const found = await answered(client.POST('/api/assess', { body: asked }))
        assessment.value = found
        if (faults.value.size > 0) faults.value = new Map()
        if (!found.conditions.some((item) => item.key === condition.value)) condition.value = 'idle'
        trouble.value = ''
        scheduleSave()
      } catch (error) {
        if (error instanceof Refused && error.problem.status === 422) {
          faults.value = new Map((error.problem.faults ?? []).map((item) => [item.path, item]))
          saveState.value = 'invalid'
        } else {
          hold(error)
        }
      }
      assessed.value += 1
    } while (askAgain)
    asking = false
  }

  function hold(error: unknown): void {
    trouble.value = error instanceof Error ? error.message : 'Something went wrong.'
    if (error instanceof Unreachable) {
      saveState.value = 'offline'
      window.clearTimeout(saveTimer)
      saveTimer = window.setTimeout(() => void assess(), RETRY_MS)
    }
  }

  function scheduleSave(): void {
    if (saveState.value === 'stale' || saveState.value === 'saved') return
    saveState.value = 'waiting'
    window.clearTimeout(saveTimer)
    saveTimer = window.setTimeout(() => void save(), SAVE_AFTER_MS)
  }

  async function save(): Promise<void> {
    if (saving || design.value === null || saveState.value === 'stale' || faults.value.size > 0) return
    saving = true
    saveState.value = 'saving'
    const [sent, head] = [design.value, heading.value]
    try {
      const done = await answered(
        client.PUT('/api/jobs/{job_id}', {
          params: { path: { job_id: id.value } },
          body: { based_on: version.value, ...head, design: sent },
        }),
      )
      version.value = done.version
      savedAt.value = new Date(`${done.saved_at}Z`)
      trouble.value = ''
      if (design.value === sent && heading.value === head) {
        saveState.value = 'saved'
        dropDraft(id.value)
      } else {
        keepDraft(id.value, { basedOn: version.value, ...heading.value, design: design.value })
        saving = false
        saveState.value = 'waiting'
        scheduleSave()
      }
    } catch (error) {
      if (error instanceof Refused && error.problem.status === 409) {
        stored.value = error.problem.stored ?? null
        saveState.value = 'stale'
      } else if (error instanceof Refused) {
        for (const item of error.problem.faults ?? []) faults.value = new Map(faults.value).set(item.path.replace(/^design\./, ''), item)
        trouble.value = error.problem.detail
        saveState.value = 'invalid'
      } else {
        hold(error)
      }
    } finally {
      saving = false
    }
  }

  /** Settle a refused save: keep what is on the screen as a newer version, or take what is stored. */
  async function resolveStale(keepMine: boolean): Promise<void> {
    const other = stored.value
    if (other === null || design.value === null) return
    if (keepMine) {
      version.value = other.version
      stored.value = null
      saveState.value = 'waiting'
      await save()
    } else {
      dropDraft(id.value)
      take(other)
      await assess()
    }
  }

  const valueAt = (path: string): unknown => getAt(design.value, path)

  return {
    id, version, design, heading, assessment, faults, saveState, savedAt, stored, trouble, past, future, place, condition,
    assessed, pieceFacts, line, moment,
    open, change, rename, enter, withProvenance, apply, undo, redo, save, resolveStale, valueAt,
  }
})
