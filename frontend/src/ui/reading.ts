/** What a meter shows, as it is typed: a number in its unit or another of its kind, or that the meter is over its range. */
import { OVER_RANGE_OHM } from './format'
import { entered } from './locale'
import { readIn, standing, unitSaid } from './units'

/** What stands in the display where nothing conducts, or where the range is too small. */
const OVER = /^(?:o\.?l\.?|0\.?l\.?|open|over ?load|over ?range|∞)$/i
/** What an open circuit reads, by unit: where a meter may say so, one press says it, for a phone's keypad has no letters. */
export const OPEN: Readonly<Record<string, number>> = { Ω: OVER_RANGE_OHM }

/** The largest reading that is stored. */
export const MOST = 1e7

/** The least and the most that a reading can be, in the unit of the models. */
export interface Range {
  least: number
  most: number
}
const ANY: Range = { least: -MOST, most: MOST }

function outside(text: string, unit: string, { least, most }: Range): string {
  const said = (value: number) => entered(standing(value, unit))
  const named = unitSaid(unit)
  return most === MOST
    ? `"${text}" is out of range: no meter shows that. Read again, and type it in ${named}.`
    : `"${text}" is out of range; give a number from ${said(least)} to ${said(most)} ${named}.`
}

/**
 * The reading in the unit of the models, or what to do where it is not certain.
 * `such` is a value that would be usual, for the example.
 */
export function readingOf(typed: string, unit: string, such: number, range: Range = ANY): number | { told: string } {
  const text = typed.trim()
  if (OVER.test(text))
    return OPEN[unit] ?? { told: `"${text}" is a meter over its range: take a larger range and read again.` }
  const value = readIn(text, unit)
  if (typeof value === 'number')
    return value >= range.least && value <= range.most ? value : { told: outside(text, unit, range) }
  const open = unit in OPEN ? ', or OL where the meter is over its range' : ''
  return {
    told: `"${text}" is not one number; type it in ${unitSaid(unit)}, such as ${entered(standing(such, unit))}${open}.`,
  }
}
