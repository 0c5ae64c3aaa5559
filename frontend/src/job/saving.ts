/** Saving the draft a breath after it was assessed; a refused save is shown with both sides, never merged. */
import { ref, shallowRef, type Ref, type ShallowRef } from 'vue'
import { answered, client, Refused, Unreachable } from '../api/client'
import type { Design, Job } from '../api/types'
import { dropDraft, keepDraft, type Heading } from './draft'
import type { Assessing } from './assessing'

export type SaveState = 'saved' | 'saving' | 'waiting' | 'offline' | 'stale' | 'invalid'
export interface Saving {
  saveState: Ref<SaveState>
  savedAt: ShallowRef<Date | null>
  stored: ShallowRef<Job | null>
  trouble: Ref<string>
  version: Ref<number>
  schedule: () => void
  save: () => Promise<void>
  /** The server cannot be reached: say so, and try again. */
  hold: (error: unknown) => void
}
export interface Subject {
  id: Ref<number>
  design: ShallowRef<Design | null>
  heading: ShallowRef<Heading>
}

const SAVE_AFTER_MS = 350
const RETRY_MS = 3000

export function useSaving(job: Subject, assessing: () => Assessing): Saving {
  const saveState = ref<SaveState>('saved')
  const savedAt = shallowRef<Date | null>(null)
  const stored = shallowRef<Job | null>(null)
  const trouble = ref('')
  const version = ref(0)
  let timer = 0
  let saving = false

  function hold(error: unknown): void {
    trouble.value = error instanceof Error ? error.message : 'Something went wrong.'
    if (!(error instanceof Unreachable)) return
    saveState.value = 'offline'
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void assessing().assess(), RETRY_MS)
  }
  function schedule(): void {
    trouble.value = ''
    if (saveState.value === 'stale' || saveState.value === 'saved') return
    saveState.value = 'waiting'
    window.clearTimeout(timer)
    timer = window.setTimeout(() => void save(), SAVE_AFTER_MS)
  }
  function refused(error: Refused): void {
    if (error.problem.status === 409) {
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
    const done = await answered(client.PUT('/api/jobs/{job_id}', { params: { path: { job_id: job.id.value } }, body }))
    version.value = done.version
    savedAt.value = new Date(`${done.saved_at}Z`)
    trouble.value = ''
    saving = false
    if (job.design.value === sent && job.heading.value === head) {
      saveState.value = 'saved'
      dropDraft(job.id.value)
    } else if (job.design.value !== null) {
      keepDraft(job.id.value, { basedOn: version.value, ...job.heading.value, design: job.design.value })
      saveState.value = 'waiting'
      schedule()
    }
  }
  async function save(): Promise<void> {
    if (saving || job.design.value === null || saveState.value === 'stale' || !assessing().valid.value) return
    saving = true
    saveState.value = 'saving'
    try {
      await put(job.design.value, job.heading.value)
    } catch (error) {
      if (error instanceof Refused) refused(error)
      else hold(error)
    } finally {
      saving = false
    }
  }
  return { saveState, savedAt, stored, trouble, version, schedule, save, hold }
}
