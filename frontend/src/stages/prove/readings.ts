/** Readings of a job, oldest first; what was read before the last cure is kept but no longer judged. */
import { computed } from 'vue'
import type { StepState } from '../../api/types'
import type { useBuildLog } from '../build/buildLog'

export const PROVE = 'Prove'
export const CURE = 'cure'

export function useReadings(log: ReturnType<typeof useBuildLog>) {
  const states = computed(() => [...log.states.value.values()].filter((state) => state.procedure === PROVE))
  const entries = (state: StepState) => state.entries
  const cures = computed(() =>
    states.value
      .filter((state) => state.step === CURE)
      .flatMap(entries)
      .filter((entry) => entry.kind === 'note'),
  )
  const since = computed(() => cures.value.map((entry) => entry.at).reduce((one, two) => (one > two ? one : two), ''))
  const all = computed(() =>
    states.value.flatMap((state) =>
      state.entries
        .filter((entry) => entry.kind === 'reading' && entry.value !== null)
        .map((entry) => ({ test: state.step, value: entry.value ?? 0, at: entry.at })),
    ),
  )
  const readings = computed(() =>
    all.value
      .filter((entry) => Date.parse(entry.at) > (since.value === '' ? 0 : Date.parse(since.value)))
      .map(({ test, value }) => ({ test, value })),
  )
  return { readings, all, cures }
}
