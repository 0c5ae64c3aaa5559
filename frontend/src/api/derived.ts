/** A picture computed from the draft: asked while the draft is valid, keyed by its revision, its errors shown. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, shallowRef, watch, type ComputedRef, type Ref } from 'vue'
import type { Design } from './types'
import { Refused } from './client'
import { useJob } from '../job/store'
import { counted } from '../ui/counted'

export interface Derived<T> {
  data: Ref<T | undefined>
  /** Nothing to show yet, and a question is under way. */
  pending: ComputedRef<boolean>
  /** Why there is no newer answer, in a sentence; empty where there is one. */
  trouble: ComputedRef<string>
}

export interface Asking {
  /** What else the answer depends on. */
  more?: () => unknown
  /** Whether the question makes sense now. */
  wanted?: () => boolean
  /** Whether the screen that asks says itself why no answer came. */
  said?: boolean
  /** How long the draft must stand still before it is asked [ms], so that stepping is never held up. */
  pause_ms?: number
}

/** Ask a question of the draft whenever it has been assessed anew; a newer question ends the one under way. */
export function useDerived<T>(
  question: string,
  ask: (design: Design, signal: AbortSignal) => Promise<T>,
  { more = () => null, wanted = () => true, said = true, pause_ms = 0 }: Asking = {},
): Derived<T> {
  const job = useJob()
  const revision = computed(() => job.sound)
  const settled = pause_ms > 0 ? refDebounced(revision, pause_ms) : revision
  const enabled = computed(() => job.valid && job.design !== null && wanted())
  const { data, isFetching, error } = useQuery({
    queryKey: computed(() => [question, job.id, settled.value, more()]),
    queryFn: ({ signal }) => {
      if (job.design === null) throw new Error('no job is open')
      return ask(job.design, signal)
    },
    enabled,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
    meta: { said },
  })
  /** A question that fails leaves the last answer of this job standing. */
  const last = shallowRef<{ job: number; answer: T } | null>(null)
  watch(
    data,
    (answer) => {
      if (answer !== undefined) last.value = { job: job.id, answer: answer as T }
    },
    { immediate: true, flush: 'sync' },
  )
  const kept = computed(() => data.value ?? (last.value?.job === job.id ? last.value.answer : undefined))
  const trouble = computed(() => {
    const count = job.errors.size
    const before = kept.value === undefined ? '' : ' What you see is from before.'
    if (count > 0) return `${counted(count, 'entry', 'entries')} to mend first.${before}`
    if (error.value === null || !enabled.value) return ''
    if (error.value instanceof Refused) return error.value.problem.detail
    return `The server does not answer.${before}`
  })
  const pending = computed(() => kept.value === undefined && isFetching.value && trouble.value === '')
  return { data: kept as Ref<T | undefined>, pending, trouble }
}
