/** A moment of a trip as a level line, asked of the server while someone points at it. */
import { computed, onScopeDispose, watch, type Ref } from 'vue'
import { answered, client } from '../api/client'
import { useDerived } from '../api/derived'
import type { ConditionLine, Trip } from '../api/types'
import { useDrive } from '../job/drive'
import { useJob } from '../job/store'
import { moment } from './tracks'

export interface MomentLine extends ConditionLine {
  moment: true
}

/** Show the sample pointed at on the level line; nothing where none is. */
export function useMoment(trip: Ref<Trip | null>, at: Ref<number | null>): void {
  const job = useJob()
  const { said } = useDrive()
  const { data } = useDerived(
    'moment',
    async (design, signal) => {
      const index = at.value ?? 0
      const series = trip.value?.series
      if (!series) throw new Error('no trip is shown')
      const of = (values: readonly number[]) => values[index] ?? 0
      const { line } = await answered(
        client.POST('/api/trip/moment', {
          body: {
            engine: series.engine[index] as 'off',
            state: series.state[index] as 'off',
            input_v: of(series.input_v),
            input_a: of(series.input_a),
            output_a: of(series.output_a),
            post_v: of(series.post_v),
            auxiliary_v: of(series.auxiliary_v),
            design,
          },
          signal,
        }),
      )
      const label = `${moment(of(series.time_s))}, ${series.state[index]}, ${said(series.engine[index] ?? '', 'engine ')}`
      return { ...line, label, moment: true } satisfies MomentLine
    },
    { more: () => at.value, wanted: () => at.value !== null && trip.value !== null, said: false },
  )
  const shown = computed(() => (at.value === null || trip.value === null ? null : (data.value ?? null)))
  watch(shown, (line) => {
    job.moment = line
  })
  onScopeDispose(() => {
    job.moment = null
  })
}
