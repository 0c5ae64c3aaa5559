/** Where a reading lies against its band, in pixels: the band stays legible however far out the reading is. */
import { linear } from '../settings/curves'

/** Pixels the band takes at least: the figures of its two ends, one above the other. Our own estimate, by eye. */
const LEGIBLE = 50
/** How much is shown to each side of the band, in widths of the band. Our own estimate, by eye. */
const BESIDE = 0.75
/** Pixels between two figures in one column. */
const APART = 15
const MARGIN = 12
/** Above it stands the unit. */
const HEAD = 22

export interface Band {
  least: number | null
  most: number | null
  doubtful: number | null
  reading: number | null
  out_by: number | null
}

/** From a place to a place, the lower number first. */
export type Stretch = [number, number]

export interface Scale {
  y: (value: number) => number
  ticks: number[]
  /** The band from the pixel of its upper end to that of its lower one; an open side runs to the edge. */
  band: Stretch
  /** What is no more than doubtful, above and below the band. */
  doubtful: Stretch[]
  /** What the meter may be out by, at the reading. */
  spread: Stretch | null
  /** What figures are told to so many digits for: the width of the band, or the size of the one bound. */
  wide: number
  /** Where the reading lies beyond what is shown, so that its mark stands at that edge and points out. */
  out: 'below' | 'above' | null
}

/** The scale of a band that stands so many pixels tall. */
export function scaled({ least, most, doubtful, reading, out_by }: Band, tall: number): Scale {
  const bound = least ?? most ?? 0
  const wide = least !== null && most !== null ? Math.max(1e-6, most - least) : Math.abs(bound) || 1
  const lowest = (least ?? bound - wide) - BESIDE * wide
  // Where nothing less than nothing is expected nor read, none is drawn.
  let from = (least ?? most ?? 0) >= 0 && (reading ?? 0) >= 0 ? Math.max(0, lowest) : lowest
  let to = (most ?? bound + wide) + BESIDE * wide
  const room = Math.max(to - from, (wide * (tall - HEAD - MARGIN)) / LEGIBLE)
  if (reading !== null && reading < from) from = Math.max(to - room, reading - 0.15 * wide)
  else if (reading !== null && reading > to) to = Math.min(from + room, reading + 0.15 * wide)
  const axis = linear([from, to], [tall - MARGIN, HEAD])
  const y = (value: number) => axis(Math.min(to, Math.max(from, value)))
  const out = reading === null ? null : reading < from ? 'below' : reading > to ? 'above' : null
  const upper = most === null ? HEAD : y(most)
  const lower = least === null ? tall - MARGIN : y(least)
  const beside: Stretch[] = []
  if (doubtful !== null && most !== null) beside.push([y(most + doubtful), upper])
  if (doubtful !== null && least !== null) beside.push([lower, y(least - doubtful)])
  return {
    y,
    ticks: axis.ticks(4),
    band: [upper, lower],
    doubtful: beside,
    spread: reading === null || out_by === null || out ? null : [y(reading + out_by), y(reading - out_by)],
    wide,
    out,
  }
}

/** Figures of one column moved up and down until none lies on another; the first stays where it is. */
export function parted(places: number[]): number[] {
  const [first, ...rest] = places
  if (first === undefined) return []
  const above = rest.filter((place) => place < first).sort((one, two) => two - one)
  const below = rest.filter((place) => place >= first).sort((one, two) => one - two)
  const moved = new Map<number, number>()
  let last = first
  for (const place of above) moved.set(place, (last = Math.min(place, last - APART)))
  last = first
  for (const place of below) moved.set(place, (last = Math.max(place, last + APART)))
  return [first, ...rest.map((place) => moved.get(place) ?? place)]
}
