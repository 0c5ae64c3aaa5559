/** Where a reading lies against its band, in pixels: the band stays legible however far out the reading is. */

/** Pixels the band takes at least: the figures of its two ends, beside each other. Our own estimate, by eye. */
const LEGIBLE = 96
/** How much is shown to each side of the band, in widths of the band. Our own estimate, by eye. */
const BESIDE = 1.15
const MARGIN = 8

export interface Band {
  least: number | null
  most: number | null
  reading: number | null
}

export interface Scale {
  x: (value: number) => number
  /** The band from where to where; an open side runs to the edge. */
  band: [number, number]
  /** What the figures are told to so many digits for: the width of the band, or the size of the one bound. */
  wide: number
  /** Where the reading lies beyond what is shown, so that its mark stands at that edge and points out. */
  out: 'below' | 'above' | null
}

/** The scale of a band in so many pixels. */
export function scaled({ least, most, reading }: Band, width: number): Scale {
  const bound = least ?? most ?? 0
  const wide = least !== null && most !== null ? Math.max(1e-6, most - least) : Math.abs(bound) || 1
  let from = (least ?? bound - wide) - BESIDE * wide
  let to = (most ?? bound + wide) + BESIDE * wide
  const room = Math.max(to - from, (wide * (width - 2 * MARGIN)) / LEGIBLE)
  if (reading !== null && reading < from) from = Math.max(to - room, reading - 0.15 * wide)
  else if (reading !== null && reading > to) to = Math.min(from + room, reading + 0.15 * wide)
  const x = (value: number) =>
    MARGIN + ((Math.min(to, Math.max(from, value)) - from) / (to - from)) * (width - 2 * MARGIN)
  const out = reading === null ? null : reading < from ? 'below' : reading > to ? 'above' : null
  return { x, band: [least === null ? MARGIN : x(least), most === null ? width - MARGIN : x(most)], wide, out }
}
