/** The house's units: the papers' own table of sentences, and entries that come back as they were typed. */
import { expect, test } from 'vitest'
import table from '../../../tests/data/units.json'
import { sizeChoices } from '../../src/ui/format'
import { inUnits, readIn, SI, spanIn, standing, unitSaid, valueIn, valueOut, type Units } from '../../src/ui/units'

interface Case {
  units: Partial<Units>
  from: string
  to: string
}
const CASES = table as Case[]
const YARDS: Units = { ...SI, length: 'ft', temperature: 'F', torque: 'lbin', currency: '£' }

test.each(CASES.filter((item) => item.units.decimal === undefined))('$from → $to', ({ units, from, to }) => {
  expect(inUnits(from, { ...SI, ...units })).toBe(to)
})

test('a sentence that was turned is not turned again', () => {
  for (const { from } of CASES) {
    const once = inUnits(from, YARDS)
    expect(inUnits(once, YARDS)).toBe(once)
  }
})

test.each([
  ['12', 'm', 3.6576],
  ['12 ft', 'm', 3.6576],
  ['5\' 6"', 'm', 1.6764],
  ['3 m', 'm', 3],
  ['350 cm', 'm', 3.5],
  ['68', '°C', 20],
  ['20 °C', '°C', 20],
  ['-4', '°C', -20],
  ['44.253', 'N·m', 4.9999175],
  ['5 N·m', 'N·m', 5],
  ['2', 'mm', 50.8],
  ['14.2', 'V', 14.2],
  ['ten', 'm', 'ten'],
  ['', 'm', null],
])('“%s” in a field of %s is %s', (typed, unit, is) => {
  const read = readIn(typed, unit, YARDS)
  if (typeof is === 'number') expect(read).toBeCloseTo(is, 6)
  else expect(read).toBe(is)
})

test.each([
  ['40', 0.4],
  ['40 %', 0.4],
  ['7.5', 0.075],
  ['0', 0],
  ['1', 0.01],
  ['0.5 %', 0.005],
  ['100', 1],
  ['130', 1.3],
  ['0.4', '0.4 ?'],
  ['.9', '.9 ?'],
  ['four', 'four'],
  ['', null],
])('“%s” where a share is asked for in per cent is %s', (typed, is) => {
  expect(readIn(typed, 'share')).toBe(is)
  expect(readIn(typed, 'share', YARDS)).toBe(is)
})

test('shares stand in per cent as short as they were typed', () => {
  for (const value of [0.05, 0.07, 0.29, 0.55, 0.57, 0.925, 1]) {
    const shown = standing(value, 'share')
    expect(shown).toBeCloseTo(100 * value, 9)
    expect(readIn(String(shown), 'share')).toBe(value)
  }
  expect(unitSaid('share')).toBe('%')
})

test('what was typed stands there again to the digit', () => {
  for (const unit of ['m', 'mm', '°C', 'N·m', 'mΩ/m', '€/m', 'V'])
    for (let at = 1; at < 400; at += 7)
      for (const digits of [0, 1, 2, 3]) {
        const typed = (at / 3).toFixed(digits)
        const stored = readIn(typed, unit, YARDS) as number
        expect(standing(stored, unit, YARDS)).toBe(Number(typed))
      }
})

test('a unit and its value go out as they came in', () => {
  expect(['m', '°C', 'N·m', '€/m', '€', 'V', '-'].map((unit) => unitSaid(unit, YARDS))).toEqual([
    'ft',
    '°F',
    'lb·in',
    '£/ft',
    '£',
    'V',
    '-',
  ])
  for (const unit of ['m', '°C', 'K', 'mV/K']) expect(valueOut(valueIn(-7.3, unit, YARDS), unit, YARDS)).toBe(-7.3)
})

test("sizes to choose from begin with the house's own system, each by area", () => {
  const sizes = [
    { size: '16 mm²', system: 'metric', area_mm2: 16 },
    { size: '4 AWG', system: 'awg', area_mm2: 21.15 },
    { size: '6 AWG', system: 'awg', area_mm2: 13.3 },
    { size: '10 mm²', system: 'metric', area_mm2: 10 },
  ]
  const named = (first: string) => sizeChoices(sizes, first).map((item) => item.value)
  expect(named('mm2')).toEqual(['10 mm²', '16 mm²', '6 AWG', '4 AWG'])
  expect(named('awg')).toEqual(['6 AWG', '4 AWG', '10 mm²', '16 mm²'])
  expect(sizeChoices(sizes, 'awg')[1]?.label).toBe('4 AWG 21.1 mm²')
})

test('a difference has no zero of its own', () => {
  expect(spanIn(4, '°C', YARDS)).toBeCloseTo(7.2)
  expect(spanIn(4, '°C', SI)).toBe(4)
  expect(spanIn(0.3048, 'm', YARDS)).toBeCloseTo(1)
  expect(spanIn(0.09, 'V', YARDS)).toBe(0.09)
})
