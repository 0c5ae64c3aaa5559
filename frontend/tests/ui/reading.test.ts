/** What a meter shows, as it is typed into Prove, a step, the logbook or a case: understood for certain, or asked about. */
import { describe, expect, it } from 'vitest'
import openapi from '../../openapi.gen.json'
import { measured } from '../../src/ui/format'
import { MOST, readingOf } from '../../src/ui/reading'

const READ: [string, string, number][] = [
  ['12.6', 'V', 12.6],
  ['12,6 V', 'V', 12.6],
  ['180 mV', 'V', 0.18],
  ['0.18 V', 'mV', 180],
  ['30 mA', 'mA', 30],
  ['0.03 A', 'mA', 30],
  ['1 min 20 s', 's', 80],
  ['0.2', 'Ω', 0.2],
  ['200 mΩ', 'Ω', 0.2],
  ['4.7 kΩ', 'Ω', 4700],
  ['2.2 MΩ', 'Ω', 2.2e6],
  ['2.2 Mohm', 'Ω', 2.2e6],
  ['1.5 mΩ', 'mΩ', 1.5],
  ['0.0015 Ω', 'mΩ', 1.5],
  ['1 kΩ', 'mΩ', 1e6],
  ['OL', 'Ω', 1e6],
  ['0L', 'Ω', 1e6],
  ['O.L', 'Ω', 1e6],
  ['open', 'Ω', 1e6],
  ['∞', 'Ω', 1e6],
]
const ASKED: [string, string, RegExp][] = [
  ['OL', 'V', /over its range: take a larger range/],
  ['OL', 'mΩ', /over its range: take a larger range/],
  ['12 A', 'V', /"12 A" is not one number; type it in V, such as 13/],
  ['twelve', 'Ω', /such as 13, or OL where the meter is over its range\.$/],
  ['1,000', 'V', /not one number/],
  ['', 'V', /not one number/],
  ['99999999999', 'V', /out of range/],
  ['1 MΩ', 'mΩ', /out of range/],
  ['-1e30', 'V', /out of range/],
]

describe('a reading', () => {
  it.each(READ)('%s, asked in %s', (typed, unit, value) => expect(readingOf(typed, unit, 13)).toBe(value))
  it.each(ASKED)('%s, asked in %s, is asked about', (typed, unit, told) =>
    expect(readingOf(typed, unit, 13)).toEqual({ told: expect.stringMatching(told) as string }),
  )
  it('is no larger than what is stored', () => {
    const taken = openapi.components.schemas.EntryIn.properties.value.anyOf[0]
    expect([taken?.minimum, taken?.maximum]).toEqual([-MOST, MOST])
  })
  it.each([
    [999, '999.0\u00a0Ω'],
    [1000, '1.0\u00a0kΩ'],
    [47000, '47.0\u00a0kΩ'],
    [1e6, 'over 1\u00a0MΩ'],
  ])('%f Ω are shown as a meter does', (value, shown) => expect(measured(value, 'Ω', 1)).toBe(shown))
})
