/** The job on the screen: its draft, what the core says of it, undo, saving and what is in focus. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { Refused } from '../api/client'
import type { Design, Job } from '../api/types'
import { useAssessing } from './assessing'
import { fieldAt } from '../ui/fields'
import { readIn } from '../ui/units'
import { changed, type Change } from './change'
import { dropDraft, keptDraft, type Heading } from './draft'
import { useHistory, type Snapshot } from './history'
import { getAt } from './path'
import { asking } from '../ui/asking'
import { readJob } from './reading'
import { useSaving } from './saving'
import { useSelection } from './selection'
import { named } from './unanswered'

const headingOf = (job: Heading): Heading => ({ title: job.title, code: job.code, customer: job.customer })

export const useJob = defineStore('job', () => {
  const id = ref(0)
  const wanted = ref(0) // the one that is being opened; it is `id` once it has come
  const design = shallowRef<Design | null>(null)
  const heading = shallowRef<Heading>({ title: '', code: '', customer: '' })
  const fromLine = ref(false) // the newest change was made on the line, and is not judged yet
  const history = useHistory()
  const assessing = useAssessing(design, {
    answered: () => {
      if (assessing.judged.value === design.value) fromLine.value = false
      selection.settle()
      saving.schedule()
    },
    refused: () => {
      fromLine.value = false
      if (saving.saveState.value !== 'stale') saving.saveState.value = 'invalid'
    },
    failed: (error) => {
      fromLine.value = false
      saving.hold(error)
      if (error instanceof Refused) void saving.save() // it cannot be judged now; stored it can be
    },
  })
  const selection = useSelection(assessing.assessment)
  const saving = useSaving({ id, design, heading }, () => assessing)

  const asked = asking(() => wanted.value)
  async function open(next: number): Promise<void> {
    wanted.value = next
    const counts = asked()
    await saving.leave(next)
    if (!counts()) return
    design.value = null
    assessing.assessment.value = null
    assessing.judged.value = null
    const job = await readJob(next).catch((error: unknown) => {
      if (counts()) throw error
      return null
    })
    if (job === null || !counts()) return
    id.value = next
    take(job)
    history.forget()
    selection.place.value = 'charger'
    await assessing.assess() // what is stored can always be drawn, even under a draft that cannot
    const kept = await keptDraft(next)
    if (kept === null || !counts() || design.value !== job.design) return
    if (named(kept) === named(job)) {
      dropDraft(next) // stored already; its answer was lost
      return
    }
    design.value = kept.design
    heading.value = headingOf(kept)
    saving.saveState.value = 'waiting'
    if (kept.basedOn !== job.version) {
      saving.stored.value = job
      saving.version.value = kept.basedOn
      saving.saveState.value = 'stale'
    }
    await assessing.assess()
  }

  function take(job: Job): void {
    saving.version.value = job.version
    design.value = job.design
    heading.value = headingOf(job)
    saving.savedAt.value = new Date(job.saved_at)
    saving.saveState.value = 'saved'
    saving.stored.value = null
    assessing.errors.value = new Map()
  }

  /** Change the design in one step that undo takes back as one; typing in one field counts as one step.
   *  What is changed on the line stands in its field when the line stands anew: one frame, not two. */
  function change(changes: readonly Change[], mergeAs = '', onLine = false): void {
    if (design.value === null || changes.length === 0) return
    history.remember({ design: design.value, heading: heading.value }, mergeAs)
    settle(changed(design.value, changes), heading.value, onLine)
  }

  function rename(part: Partial<Heading>): void {
    if (design.value === null) return
    history.remember({ design: design.value, heading: heading.value }, `heading.${Object.keys(part).join()}`)
    settle(design.value, { ...heading.value, ...part })
  }

  function settle(next: Design, head: Heading, onLine = false): void {
    fromLine.value = onLine
    design.value = next
    heading.value = head
    saving.keep(id.value, { basedOn: saving.version.value, ...head, design: next })
    if (saving.saveState.value !== 'stale') saving.saveState.value = 'waiting'
    void assessing.assess()
  }

  /** Put a typed entry at a path: a number where it reads as one, else the text itself for the server to judge. */
  function enter(path: string, text: string, provenance?: string): void {
    const value = readIn(text, fieldAt(design.value, path).unit)
    const changes: Change[] = [{ path, value }]
    const word = value === null ? null : (provenance ?? null)
    if (provenance !== undefined) changes.push({ path: 'provenance', value: withProvenance(path, word) })
    change(changes, path)
  }

  /** Have the answers to these changes at hand before they are made, and the one to what is there now. */
  function foresee(options: readonly (readonly Change[])[]): void {
    const now = design.value
    if (now === null || now !== assessing.judged.value) return
    assessing.foresee(options.filter((changes) => changes.length > 0).map((changes) => changed(now, changes)))
  }

  function withProvenance(path: string, word: string | null): Record<string, string> {
    const others = Object.entries(design.value?.provenance ?? {}).filter(([key]) => key !== path)
    return Object.fromEntries(word === null ? others : [...others, [path, word]])
  }

  function turn(from: (now: Snapshot) => Snapshot | null): void {
    if (design.value === null) return
    const snapshot = from({ design: design.value, heading: heading.value })
    if (snapshot !== null) settle(snapshot.design, snapshot.heading)
  }
  const undo = () => turn(history.back)
  const redo = () => turn(history.forward)

  /** Settle a refused save: keep what is on the screen as a newer version, or take what is stored. */
  async function resolveStale(keepMine: boolean): Promise<void> {
    const other = saving.stored.value
    if (other === null || design.value === null) return
    if (keepMine) {
      saving.version.value = other.version
      saving.stored.value = null
      saving.saveState.value = 'waiting'
      await saving.save()
    } else {
      history.remember({ design: design.value, heading: heading.value }, '') // undo brings mine back
      dropDraft(id.value)
      take(other)
      await assessing.assess()
    }
  }

  const shown = computed(() => (fromLine.value ? assessing.judged.value : null) ?? design.value)
  /** What stands in a field. */
  const valueAt = (path: string): unknown => getAt(shown.value, path)
  const { past, future } = history
  const { assessment, judged, errors, assessed, sound, valid } = assessing
  const { saveState, savedAt, stored, trouble, unkept, version, save } = saving
  const { place, condition, moment, probes, line, pieceFacts } = selection
  return {
    ...{
      id,
      wanted,
      version,
      design,
      judged,
      heading,
      assessment,
      errors,
      saveState,
      savedAt,
      stored,
      trouble,
      unkept,
      past,
      future,
    },
    ...{ place, condition, assessed, sound, valid, pieceFacts, line, moment, probes },
    ...{ open, change, foresee, rename, enter, withProvenance, undo, redo, save, resolveStale, valueAt },
  }
})
