/** How far the work on a job is: lines keyed, steps done, tests right, signed off; as the server has it. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '../api/client'
import type { Count, HowFar } from '../api/types'
import type { Stage } from '../app/router'
import { counted } from '../ui/counted'
import { useJob } from './store'

export const HOW_FAR = 'how-far'

/** What is done of a stage's work, for its mark in the bar. */
export interface Worked {
  done: boolean
  begun: string
  wrong: number
  doubtful: number
  hint: string[]
}
const WHAT: readonly (readonly [keyof HowFar & Stage, string])[] = [
  ['settings', 'lines keyed'],
  ['build', 'steps settled'],
  ['prove', 'tests done'],
]

export function useHowFar() {
  const job = useJob()
  const { data, isError } = useQuery({
    queryKey: [HOW_FAR, computed(() => job.id), computed(() => job.version)],
    queryFn: () => answered(client.GET('/api/jobs/{job_id}/how-far', { params: { path: { job_id: job.id } } })),
    enabled: computed(() => job.id > 0 && job.assessment !== null),
    meta: { said: true }, // without it the bar counts what stands against the design alone
    placeholderData: (before, query) => (query?.queryKey[1] === job.id ? before : undefined),
  })
  // Out of reach the counts of before would stand beside what has been done since.
  return computed(() => (data.value === undefined || isError.value ? new Map<Stage, Worked>() : worked(data.value)))
}

function worked(far: HowFar): Map<Stage, Worked> {
  const found = new Map<Stage, Worked>(WHAT.map(([stage, what]) => [stage, ofStage(far[stage] as Count, what)]))
  const hint = far.signed ? ['signed off'] : []
  return found.set('handover', { done: far.signed, begun: '', wrong: 0, doubtful: 0, hint })
}

function ofStage({ done, of, wrong, doubtful }: Count, what: string): Worked {
  const hint = of === 0 || done === 0 ? [] : [`${String(done)} of ${String(of)} ${what}`]
  if (wrong > 0) hint.push(`${counted(wrong, 'reading')} wrong`)
  if (doubtful > 0) hint.push(`${counted(doubtful, 'reading')} to take again`)
  const begun = done > 0 && done < of ? `${String(done)}/${String(of)}` : ''
  return { done: of > 0 && done === of, begun, wrong, doubtful, hint }
}
