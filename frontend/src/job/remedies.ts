/** Remedies of the findings on show: searched and tried by the core, a breath behind the assessment. */
import { computed, type ComputedRef } from 'vue'
import { answered, client } from '../api/client'
import { useDerived } from '../api/derived'
import type { Remedy } from '../api/types'
import { useJob } from './store'

export interface Ways {
  remedies: readonly Remedy[]
  /** Tried, and found not to mend it. */
  tried: number
}

export interface Remedies {
  /** Remedies by finding; none while those of an earlier draft are all there are. */
  ways: ComputedRef<ReadonlyMap<string, Ways>>
  searching: ComputedRef<boolean>
}

export function useRemedies(): Remedies {
  const job = useJob()
  const { data, trouble } = useDerived(
    'remedies',
    async (design, signal) => {
      const asked = job.sound
      const found = await answered(client.POST('/api/remedies', { body: design, signal }))
      return { asked, found: found.findings }
    },
    { pause_ms: 150, said: false, wanted: () => (job.assessment?.findings.length ?? 0) > 0 },
  )
  const current = computed(() => (data.value?.asked === job.sound && trouble.value === '' ? data.value : undefined))
  return {
    ways: computed(
      () =>
        new Map((current.value?.found ?? []).map((item) => [item.id, { remedies: item.remedies, tried: item.tried }])),
    ),
    searching: computed(() => current.value === undefined && trouble.value === ''),
  }
}
