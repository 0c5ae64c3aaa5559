/** What a trip's chart draws: tracks with their scale, and a time axis in words. */
import { entered } from '../ui/locale'
import { scaleLinear } from 'd3-scale'
import { curveLinear, curveStepAfter, line } from 'd3-shape'
import type { Trip } from '../api/types'
import { unitSaid, valueIn } from '../ui/units'

export interface Mark {
  label: string
  value: number
}
export interface Track {
  name: string
  height: number
  low: number
  high: number
  ticks: number[]
  marks: Mark[]
  lines: {
    name: string
    tone: 'copper' | 'teal'
    values: readonly number[]
    times: readonly number[]
    other: boolean
    smooth: boolean
  }[]
}

/** Seconds as a person says them. */
export function duration(seconds: number): string {
  if (seconds < 120) return `${Math.round(seconds)} s`
  if (seconds < 7200) return `${Math.round(seconds / 60)} min`
  if (seconds < 172800) return `${entered(Math.round(seconds / 360) / 10)} h`
  return `${entered(Math.round(seconds / 8640) / 10)} d`
}

/** A moment told to the second or, later on, to the minute: `12 min 5 s`, `6 h 12 min`. */
export function moment(seconds: number): string {
  const [days, hours, minutes, rest] = [
    Math.floor(seconds / 86400),
    Math.floor(seconds / 3600) % 24,
    Math.floor(seconds / 60) % 60,
    Math.floor(seconds % 60),
  ]
  const parts: [number, string][] =
    days || hours
      ? [
          [days, 'd'],
          [hours, 'h'],
          [minutes, 'min'],
        ]
      : [
          [minutes, 'min'],
          [rest, 's'],
        ]
  return (
    parts
      .filter(([count]) => count > 0)
      .map(([count, unit]) => `${count} ${unit}`)
      .join(' ') || '0 s'
  )
}

const STEPS_S = [
  1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 10800, 14400, 21600, 43200, 86400, 172800, 259200,
  432000, 604800,
]

/** Round times between two, `most` at most. */
export function timeTicks(from: number, to: number, most: number): number[] {
  const wide = to - from
  const step = STEPS_S.find((one) => wide / one < most) ?? Math.ceil(wide / most / 604800) * 604800
  const first = Math.ceil(from / step - 1e-9)
  return Array.from({ length: Math.floor(to / step + 1e-9) - first + 1 }, (_, part) => (first + part) * step)
}

function scaled(values: readonly number[], least: number): { low: number; high: number; ticks: number[] } {
  const [from, to] = [Math.min(...values), Math.max(...values)]
  const scale = scaleLinear()
    .domain([from, Math.max(to, from + least)])
    .nice(3)
  const [low = from, high = to] = scale.domain()
  return { low, high, ticks: scale.ticks(3) }
}

const least = (values: readonly number[]) => values.filter((volts) => volts > 1)

/** The tracks of a trip, another one beside it drawn faint; a compact one leaves charge and temperatures out. */
export function tracksOf(trip: Trip, marks: readonly Mark[], compact: boolean, other: Trip | null = null): Track[] {
  type Name = 'input_v' | 'input_a' | 'output_a' | 'start_charge' | 'auxiliary_charge' | 'supply_c' | 'unit_c'
  const line = (from: Trip, name: Name, tone: 'copper' | 'teal', by: (value: number) => number, faint: boolean) => ({
    name: `${name}${faint ? ' of the other' : ''}`,
    tone,
    values: from.series[name].map(by),
    times: from.series.time_s,
    other: faint,
    smooth: !/_[va]$/.test(name),
  })
  const both = (names: [Name, 'copper' | 'teal'][], by = (value: number) => value) => [
    ...(other ? names.map(([name, tone]) => line(other, name, tone, by, true)) : []),
    ...names.map(([name, tone]) => line(trip, name, tone, by, false)),
  ]
  const all = (name: Name) => [...trip.series[name], ...(other?.series[name] ?? [])]
  const volts = scaled([...least(all('input_v')), ...marks.map((mark) => mark.value)], 1)
  const amps = scaled([0, ...all('input_a'), ...(compact ? [] : all('output_a')), 5], 5)
  const found: Track[] = [
    {
      name: 'volts at the unit',
      height: compact ? 32 : 92,
      ...volts,
      ticks: compact ? volts.ticks.filter((_, at) => at % Math.ceil(volts.ticks.length / 3) === 0) : volts.ticks,
      marks: [...marks],
      lines: both([['input_v', 'copper']]),
    },
    {
      name: compact ? 'input, A' : 'A: input copper, output teal',
      height: compact ? 12 : 26,
      low: amps.low,
      high: amps.high,
      ticks: compact ? [amps.high] : [amps.low, amps.high],
      marks: [],
      lines: both(
        compact
          ? [['input_a', 'copper']]
          : [
              ['output_a', 'teal'],
              ['input_a', 'copper'],
            ],
      ),
    },
  ]
  if (compact) return found
  const warmth = (celsius: number) => valueIn(celsius, '°C')
  const warm = scaled([...all('supply_c'), ...all('unit_c')].map(warmth), 20)
  found.push({
    name: 'charge, %: start battery copper, auxiliary teal',
    height: 34,
    low: 0,
    high: 100,
    ticks: [0, 100],
    marks: [],
    lines: both(
      [
        ['start_charge', 'copper'],
        ['auxiliary_charge', 'teal'],
      ],
      (share) => 100 * share,
    ),
  })
  found.push({
    name: `${unitSaid('°C')}: supply conductor copper, unit teal`,
    height: 26,
    low: warm.low,
    high: warm.high,
    ticks: [warm.low, warm.high],
    marks: [],
    lines: both(
      [
        ['supply_c', 'copper'],
        ['unit_c', 'teal'],
      ],
      warmth,
    ),
  })
  return found
}

/** A line through samples: quick quantities held until the next sample, slow ones joined straight. */
export function pathOf(
  times: readonly number[],
  values: readonly number[],
  x: (seconds: number) => number,
  y: (value: number) => number,
  smooth: boolean,
): string {
  const drawn = line<number>(
    (_, at) => x(times[at] ?? 0),
    (value) => y(value),
  )
  return drawn.curve(smooth ? curveLinear : curveStepAfter).digits(1)(values) ?? ''
}
