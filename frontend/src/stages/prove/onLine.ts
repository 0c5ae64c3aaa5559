/** What Prove shows on the level line: the measured one strong, the designed one faint behind it; probes where the test says. */
import { onBeforeUnmount, watch } from 'vue'
import type { Proof, ProofRow } from '../../api/types'
import { useJob } from '../../job/store'
import type { MomentLine } from '../../trip/moment'

/** Show both while the page stands.
 *
 * @param measured - The line as it was read.
 * @param test - The test that is open.
 */
export function showOnLine(
  measured: () => Proof['measured'] | undefined,
  test: () => ProofRow['test'] | undefined,
): void {
  const job = useJob()
  watch(
    measured,
    (line) => {
      job.moment = line ? ({ ...line, moment: true } as MomentLine) : null
    },
    { immediate: true },
  )
  watch(
    test,
    (open) => {
      job.probes = open
        ? { red: open.red_at ?? '', black: open.black_at ?? '', clamp: !open.black && !open.answers?.length }
        : null
    },
    { immediate: true },
  )
  onBeforeUnmount(() => {
    job.moment = null
    job.probes = null
  })
}
