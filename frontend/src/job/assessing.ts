/** What the core says of the draft: asked at every change, the newest draft waiting while a question is under way. */
import { computed, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { answered, client, Refused } from '../api/client'
import type { Assessment, Design, EntryError } from '../api/types'
import { useForeseen } from './foreseen'

export interface Assessing {
  assessment: ShallowRef<Assessment | null>
  /** The draft that the assessment speaks of: what is drawn of it is drawn of both, in one. */
  judged: ShallowRef<Design | null>
  /** Wrong entries by the path of their field. */
  errors: ShallowRef<Map<string, EntryError>>
  /** Counts answers, refusals among them. */
  assessed: Ref<number>
  /** Counts drafts that were assessed; what is computed from a design is keyed by this. */
  sound: Ref<number>
  /** Whether the draft on the screen is the one last assessed. */
  valid: ComputedRef<boolean>
  assess: () => Promise<void>
  /** Ask for what these drafts would be answered, so that the answer is there when one of them is made. */
  foresee: (designs: readonly Design[]) => void
}

export interface Outcome {
  answered: () => void
  refused: () => void
  failed: (error: unknown) => void
}

export function useAssessing(design: ShallowRef<Design | null>, outcome: Outcome): Assessing {
  const assessment = shallowRef<Assessment | null>(null)
  const errors = shallowRef<Map<string, EntryError>>(new Map())
  const assessed = ref(0)
  const sound = ref(0)
  const judged = shallowRef<Design | null>(null)
  let asking = false
  let askAgain = false
  const ask = (asked: Design) => answered(client.POST('/api/assess', { body: asked }))
  const ahead = useForeseen(ask)
  async function once(asked: Design): Promise<void> {
    try {
      const found = ahead.take(asked) ?? ask(asked)
      assessment.value = found instanceof Promise ? await found : found // at hand, it is drawn with the draft in one
      judged.value = asked
      sound.value += 1
      if (errors.value.size > 0) errors.value = new Map()
      outcome.answered()
    } catch (error) {
      if (error instanceof Refused && error.problem.status === 422) {
        errors.value = new Map((error.problem.errors ?? []).map((item) => [item.path, item]))
        outcome.refused()
      } else outcome.failed(error)
    }
    assessed.value += 1
  }
  async function assess(): Promise<void> {
    if (asking) {
      askAgain = true
      return
    }
    asking = true
    do {
      askAgain = false
      if (design.value === null) break
      await once(design.value)
    } while (askAgain)
    asking = false
  }
  function foresee(designs: readonly Design[]): void {
    if (judged.value !== null && assessment.value !== null) ahead.look(judged.value, assessment.value, designs)
  }
  const valid = computed(() => errors.value.size === 0 && judged.value !== null)
  return { assessment, judged, errors, assessed, sound, valid, assess, foresee }
}
