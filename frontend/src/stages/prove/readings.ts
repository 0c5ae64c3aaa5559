/** Readings of a job, oldest first; what was read before the last cure or an earlier visit is kept but no longer judged. */
import { computed, type Ref } from 'vue'
import type { ProofRow, StepState } from '../../api/types'
import { measured } from '../../ui/format'
import { asOf } from '../../vehicle/signal'

export const PROVE = 'Prove'
export const CURE = 'cure'
export const VISIT = 'visit'

export function useReadings(log: { states: Ref<ReadonlyMap<string, StepState>> }) {
  const states = computed(() => [...log.states.value.values()].filter((state) => state.procedure === PROVE))
  const entries = (state: StepState) => state.entries
  const cures = computed(() =>
    states.value
      .filter((state) => state.step === CURE)
      .flatMap(entries)
      .filter((entry) => entry.kind === 'note'),
  )
  /** When the vehicle came back last; empty for never. A visit taken back was none. */
  const visit = computed(() => {
    const begun: string[] = []
    for (const entry of states.value.filter((state) => state.step === VISIT).flatMap(entries))
      if (entry.kind === 'done') begun.push(entry.at)
      else if (entry.kind === 'open') begun.pop()
    return begun.at(-1) ?? ''
  })
  const since = computed(() =>
    [visit.value, ...cures.value.map((entry) => entry.at)].reduce((one, two) => (one > two ? one : two), ''),
  )
  const all = computed(() =>
    states.value.flatMap((state) =>
      state.entries
        .filter((entry) => entry.kind === 'reading' && entry.value !== null)
        .map((entry) => ({ test: state.step, value: entry.value ?? 0, at: entry.at })),
    ),
  )
  const counting = computed(() =>
    all.value.filter((entry) => Date.parse(entry.at) > (since.value === '' ? 0 : Date.parse(since.value))),
  )
  const readings = computed(() => counting.value.map(({ test, value }) => ({ test, value })))
  /** When the last reading that counts was taken; empty for none. */
  const latest = computed(() =>
    counting.value.map((entry) => entry.at).reduce((one, two) => (one > two ? one : two), ''),
  )
  return { readings, all, cures, visit, latest }
}

/** What can be said without signal of a reading that waits: where it lies in the band held here; empty where all is judged. */
export function unjudgedOf(readings: readonly { test: string; value: number }[], row: ProofRow | undefined): string {
  const last = readings.filter((item) => item.test === row?.test.key).at(-1)
  if (asOf.value === null || row === undefined || last === undefined || last.value === row.reading) return ''
  const noted = `${measured(last.value, row.test.unit ?? '', 2)} is noted`
  const { least, most } = row
  if (least === null || most === null) return `${noted}. It cannot be judged without the server.`
  const within = last.value >= least && last.value <= most
  return within
    ? `${noted}: within the band held here. What was read since may narrow that; it is judged to the end by the server.`
    : `${noted}: outside the band held here. Measure again; it is judged to the end by the server.`
}
