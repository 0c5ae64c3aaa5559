/** A picture computed from the draft: asked while the draft is valid, keyed by it, its errors shown. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, type ComputedRef, type Ref } from 'vue'
import type { Design } from './types'
import { Refused } from './client'
import { useJob } from '../job/store'

export interface Derived<T> {
  data: Ref<T | undefined>
  /** Nothing to show yet, and a question is under way. */
  pending: ComputedRef<boolean>
  /** Why there is no newer answer, in a sentence; empty where there is one. */
  trouble: ComputedRef<string>
}

/** Ask a question of the draft whenever it has been assessed anew.
 *
 * `more` names what else the answer depends on; `ask` gets the design and answers, or rejects.
 */
export function useDerived<T>(
  question: string,
  ask: (design: Design) => Promise<T>,
  more: () => unknown = () => null,
  wanted: () => boolean = () => true,
): Derived<T> {
  const job = useJob()
  const key = computed(() => [question, job.id, job.sound, more()])
  const { data, isFetching, error } = useQuery({
    queryKey: key,
    queryFn: () => {
      if (job.design === null) throw new Error('no job is open')
      return ask(job.design)
    },
    enabled: computed(() => job.valid && job.design !== null && wanted()),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
  })
  const trouble = computed(() => {
    if (job.errors.size > 0) return `${job.errors.size} to mend first; this is from before.`
    if (error.value === null) return ''
    return error.value instanceof Refused
      ? error.value.problem.detail
      : 'The server does not answer; this is from before.'
  })
  const pending = computed(() => data.value === undefined && isFetching.value && trouble.value === '')
  return { data: data as Ref<T | undefined>, pending, trouble }
}
