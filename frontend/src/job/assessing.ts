/** What the core says of the draft: asked at every change, the newest draft waiting while a question is under way. */
import { computed, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { answered, client, Refused } from '../api/client'
import type { Assessment, Design, EntryError } from '../api/types'

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
  async function once(asked: Design): Promise<void> {
    try {
      assessment.value = await answered(client.POST('/api/assess', { body: asked }))
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
  const valid = computed(() => errors.value.size === 0 && judged.value !== null)
  return { assessment, judged, errors, assessed, sound, valid, assess }
}
