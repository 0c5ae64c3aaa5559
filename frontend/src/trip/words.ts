/** A trip in words and as a file. */
import type { Trip } from '../api/types'
import { duration } from './tracks'

/** What a trip comes to, in a word. */
export function verdictOf(trip: Trip): { tone: 'stop' | 'caution' | 'good'; words: string } {
  const { totals } = trip
  if (totals.cut_s !== null && totals.cut_s !== undefined)
    return { tone: 'stop', words: `■ It hunts; driven to ${duration(totals.cut_s)}` }
  if (totals.hunting) return { tone: 'stop', words: '■ It hunts' }
  if (totals.cold_ah > 0.05) return { tone: 'stop', words: '■ It charges a frozen battery' }
  if (totals.refused_min > 1) return { tone: 'caution', words: '▲ The pack refuses the cold' }
  if (totals.guard_trips > 0)
    return {
      tone: 'caution',
      words: `▲ The battery guard tripped ${totals.guard_trips === 1 ? 'once' : `${totals.guard_trips} times`}`,
    }
  if (totals.starts === 0) return { tone: 'caution', words: '▲ It never starts' }
  return { tone: 'good', words: '✓ It runs clean' }
}

/** The series of a trip as CSV. */
export function csvOf(trip: Trip): string {
  const { series } = trip
  const keys = [
    'time_s',
    'state',
    'stage',
    'engine',
    'input_v',
    'input_a',
    'output_a',
    'post_v',
    'auxiliary_v',
    'start_charge',
    'auxiliary_charge',
    'supply_c',
    'unit_c',
  ] as const
  const rows = series.time_s.map((_, index) => keys.map((key) => series[key][index]).join(','))
  return [keys.join(','), ...rows].join('\n') + '\n'
}
