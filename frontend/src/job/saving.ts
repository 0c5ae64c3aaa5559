/** Saving the draft a breath after it was assessed; a refused save is shown with both sides, never merged. */
import { ref, shallowRef, type Ref, type ShallowRef } from 'vue'
import { answered, client, Refused } from '../api/client'
import type { Design, Job } from '../api/types'
import { dropDraft, keepDraft, type Draft, type Heading } from './draft'
import type { Assessing } from './assessing'
import { useUnanswered } from './unanswered'

export type SaveState = 'saved' | 'saving' | 'waiting' | 'offline' | 'held' | 'stale' | 'invalid'
export interface Saving {
  saveState: Ref<SaveState>
  savedAt: ShallowRef<Date | null>
  stored: ShallowRef<Job | null>
  trouble: Ref<string>
  /** The browser does not keep what is typed: it has no room, or forbids it. */
  unkept: Ref<boolean>
  version: Ref<number>
  schedule: () => void
  save: () => Promise<void>
  /** The server cannot be reached, or cannot store: say so, and try again. */
  hold: (error: unknown) => void
  /** A job is opened; what of it is still on its way to the server is waited for. */
  leave: (next: number) => Promise<void>
  keep: (id: number, draft: Draft) => void
}
export interface Subject {
  id: Ref<number>
  design: ShallowRef<Design | null>
  heading: ShallowRef<Heading>
}

const reasonOf = (error: unknown) =>
  error instanceof Refused ? error.problem.title : error instanceof Error ? error.message : 'Something went wrong.'
const SAVE_AFTER_MS = 350
const RETRY_MS = 3000

export function useSaving(job: Subject, assessing: () => Assessing): Saving {
  const saveState = ref<SaveState>('saved')
  const savedAt = shallowRef<Date | null>(null)
  const stored = shallowRef<Job | null>(null)
  const trouble = ref('')
  const version = ref(0)
  const unkept = ref(false)
  let timer = 0
  const underWay = new Map<number, Promise<void>>() // saves, by their job
  const unanswered = useUnanswered()

  /** Nothing is stored for now: say why, keep what is typed, and try again. */
  function hold(error: unknown): void {
    trouble.value = reasonOf(error)
    if (saveState.value === 'stale') return
    saveState.value = error instanceof Refused ? 'held' : 'offline'
    window.clearTimeout(timer)
    timer = window.setTimeout(() => {
      void assessing().assess() // what follows it saves again
    }, RETRY_MS)
  }
  /** Nothing of the job before is under way any more, as far as the screen is concerned. */
  async function leave(next: number): Promise<void> {
    window.clearTimeout(timer)
    if (saveState.value === 'waiting') void save()
    await underWay.get(next) // read before that, it would be as it was, and replace what was typed
    window.clearTimeout(timer)
    trouble.value = ''
    stored.value = null
    unkept.value = false
    saveState.value = 'saved'
  }
  function keep(id: number, draft: Draft): void {
    unkept.value = !keepDraft(id, draft)
  }
  function schedule(): void {
    trouble.value = ''
    if (saveState.value === 'stale' || saveState.value === 'saved') return
    saveState.value = 'waiting'
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void save(), SAVE_AFTER_MS)
  }
  /** What is stored is what this page sent before, its answer lost on the way: go on from there. */
  function mineAlready(found: Job | null | undefined): boolean {
    if (!found || !unanswered.holds(job.id.value, found)) return false
    unanswered.answered()
    version.value = found.version
    saveState.value = 'waiting'
    schedule()
    return true
  }
  function refused(error: Refused): void {
    if (error.problem.status === 409) {
      if (mineAlready(error.problem.stored)) return
      stored.value = error.problem.stored ?? null
      saveState.value = 'stale'
      return
    }
    const { errors } = assessing()
    const found = (error.problem.errors ?? []).map((item) => [item.path.replace(/^design\./, ''), item] as const)
    errors.value = new Map([...errors.value, ...found])
    trouble.value = error.problem.detail
    saveState.value = 'invalid'
  }
  async function put(sent: Design, head: Heading): Promise<void> {
    const body = { based_on: version.value, ...head, design: sent }
    const id = job.id.value
    const done = await answered(client.PUT('/api/jobs/{job_id}', { params: { path: { job_id: id } }, body }))
    unanswered.answered()
    if (job.id.value !== id) {
      dropDraft(id) // stored while another job was opened: of that one nothing is touched
      return
    }
    version.value = done.version
    savedAt.value = new Date(done.saved_at)
    trouble.value = ''
    unkept.value = false
    if (job.design.value === sent && job.heading.value === head) {
      saveState.value = 'saved'
      dropDraft(id)
    } else if (job.design.value !== null) {
      keep(id, { basedOn: version.value, ...job.heading.value, design: job.design.value })
      saveState.value = 'waiting'
      schedule()
    }
  }
  function save(): Promise<void> {
    const [id, design] = [job.id.value, job.design.value]
    const before = underWay.get(id)
    if (before !== undefined) return before
    if (design === null || saveState.value === 'stale' || !assessing().valid.value) return Promise.resolve()
    saveState.value = 'saving'
    const now = sent(id, design).finally(() => underWay.delete(id))
    underWay.set(id, now)
    return now
  }
  async function sent(id: number, design: Design): Promise<void> {
    const head = job.heading.value
    try {
      await put(design, head)
    } catch (error) {
      if (job.id.value !== id) return // its draft stays in this browser
      if (!(error instanceof Refused && error.problem.status < 500)) unanswered.sent(id, { ...head, design })
      if (error instanceof Refused && error.problem.status < 500) refused(error)
      else hold(error)
    }
  }
  return { saveState, savedAt, stored, trouble, unkept, version, schedule, save, hold, leave, keep }
}
