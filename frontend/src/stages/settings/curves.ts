/** The charge picture: a curve a source on one time axis, amperes above, charge below. */
import { scaleLinear } from 'd3-scale'
import { line as lineOf } from 'd3-shape'
import type { Audit, AuditedSource } from '../../api/types'

export type Curve = AuditedSource['curve']

/** The time axis ends where the slowest curve worth seeing does; the sun takes days and is cut. */
export function spanOf(audit: Audit): number {
  const ends = audit.sources
    .filter((item) => item.kind !== 'solar')
    .map((item) => item.hours_full ?? Math.max(item.stalls_h ?? 0, 2))
  const longest = ends.length ? Math.max(...ends) * 1.15 : 24
  return Math.max(2, Math.min(48, Math.ceil(longest)))
}

type Axis = (value: number) => number

export function paths(curve: Curve, x: Axis, amps: Axis, charge: Axis, volts: Axis) {
  const over = (values: readonly number[], y: Axis) =>
    lineOf<number>(
      (_, at) => x(curve.hours[at] ?? 0),
      (value) => y(value),
    ).digits(1)([...values]) ?? ''
  return { amps: over(curve.amps, amps), charge: over(curve.charge, charge), volts: over(curve.volts, volts) }
}

export const linear = (domain: [number, number], range: [number, number]) => scaleLinear(domain, range)

/** A dash for each source beside its colour, so that shape tells them apart. */
export const DASHES = ['', '7 3', '2 3', '9 3 2 3', '5 2 1 2 1 2', '1 4']
