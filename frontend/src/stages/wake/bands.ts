/** Bands of volts at the unit's input: engine or vehicle off, low phase, running, loaded. */
import type { WakeBands } from '../../api/types'

export function bandsOf(wake: WakeBands | null, off: string) {
  if (wake === null) return []
  return [
    { key: 'rest', label: off, band: wake.rest },
    { key: 'low', label: 'low phase', band: wake.low_phase },
    { key: 'unloaded', label: 'running', band: wake.unloaded },
    { key: 'loaded', label: 'loaded', band: wake.loaded },
  ].flatMap((item) => (item.band ? [{ ...item, band: item.band }] : []))
}
