/** What a trip's chart draws: tracks with their scale, and a time axis in words. */
import type { Trip } from '../api/types'

export interface Mark { label: string; value: number }
export interface Track {
  name: string
  height: number
  low: number
  high: number
  ticks: number[]
  marks: Mark[]
  lines: { name: string; tone: 'copper' | 'teal'; values: readonly number[] }[]
}

/** Seconds as a person says them. */
export function duration(seconds: number): string {
  if (seconds < 120) return `${Math.round(seconds)} s`
  if (seconds < 7200) return `${Math.round(seconds / 60)} min`
  if (seconds < 172800) return `${Math.round(seconds / 360) / 10} h`
  return `${Math.round(seconds / 8640) / 10} d`
}

function scaled(values: readonly number[], least: number): { low: number; high: number; ticks: number[] } {
  const [from, to] = [Math.min(...values), Math.max(...values)]
  const wanted = Math.max(to - from, least) / 3
  const size = 10 ** Math.floor(Math.log10(wanted))
  const step = [1, 2, 5, 10].map((part) => part * size).find((part) => part >= wanted) ?? size
  const low = Math.floor(from / step) * step
  const high = Math.max(Math.ceil(to / step) * step, low + step)
  const ticks = Array.from({ length: Math.round((high - low) / step) + 1 }, (_, part) => Math.round((low + part * step) * 100) / 100)
  return { low, high, ticks }
}

/** The tracks of a trip; a compact one leaves the batteries' charge out. */
export function tracksOf(trip: Trip, marks: readonly Mark[], compact: boolean): Track[] {
  const { series } = trip
  const shown = series.input_v.filter((volts) => volts > 1)
  const volts = scaled([...shown, ...marks.map((mark) => mark.value)], 1)
  const amps = scaled([0, ...series.input_a, 5], 5)
  const found: Track[] = [
    { name: 'volts at the unit', height: compact ? 50 : 112, ...volts, marks: [...marks], lines: [{ name: 'input', tone: 'copper', values: series.input_v }] },
    { name: 'input, A', height: compact ? 14 : 40, low: amps.low, high: amps.high, ticks: compact ? [amps.high] : [amps.low, amps.high], marks: [], lines: [{ name: 'amps', tone: 'copper', values: series.input_a }] },
  ]
  if (!compact) {
    const percent = (values: readonly number[]) => values.map((value) => value * 100)
    found.push({ name: 'charge, %: start battery copper, auxiliary teal', height: 50, low: 0, high: 100, ticks: [0, 50, 100], marks: [], lines: [{ name: 'start', tone: 'copper', values: percent(series.start_charge) }, { name: 'auxiliary', tone: 'teal', values: percent(series.auxiliary_charge) }] })
  }
  return found
}

/** A line through samples, each held until the next, cut off at the drawing's lower edge where nothing is there. */
export function stepped(times: readonly number[], values: readonly number[], x: (seconds: number) => number, y: (value: number) => number): string {
  let path = ''
  times.forEach((seconds, at) => {
    const value = values[at] ?? 0
    path += at === 0 ? `M${x(seconds).toFixed(1)} ${y(value).toFixed(1)}` : `H${x(seconds).toFixed(1)}V${y(value).toFixed(1)}`
  })
  return path
}
