/** What is typed into a number field: understood for certain, or left as it stands and asked about. */
import { describe, expect, it } from 'vitest'
import { FIELDS } from '../../src/api/fields.gen'
import { asTyped, readEntry, unsure } from '../../src/ui/number'

// Typed, unit of the field, what is stored; a text that comes back as it was is refused by the core with its reason.
const CERTAIN: [string, string, number | null][] = [
  ['', 'V', null],
  ['   ', 'V', null],
  ['12', 'V', 12],
  [' 12 ', 'V', 12],
  ['+12', 'V', 12],
  ['-5', '°C', -5],
  ['−5', '°C', -5],
  ['– 5', '°C', -5],
  ['0', 'A', 0],
  ['5.5', 'm', 5.5],
  ['5,5', 'm', 5.5],
  ['5.', 'm', 5],
  ['5,', 'm', 5],
  ['.5', 'm', 0.5],
  [',5', 'm', 0.5],
  ['0,125', 'm', 0.125],
  ['0.125', 'm', 0.125],
  ['1.000', 'm', 1],
  ['12.345', 'V', 12.345],
  ['12,34', 'V', 12.34],
  ['12,3456', 'V', 12.3456],
  ['1234,567', 'm', 1234.567],
  ['1 000', 'Ah', 1000],
  ['1\u00a0000', 'Ah', 1000],
  ['1\u202f000', 'Ah', 1000],
  ["1'000", 'Ah', 1000],
  ['12 500', 'W', 12500],
  ['1 000,5', 'Ah', 1000.5],
  ['1 000.5', 'Ah', 1000.5],
  ['1.000,5', 'Ah', 1000.5],
  ['1,000.5', 'Ah', 1000.5],
  ['1.234.567', 'W', 1234567],
  ['1,234,567', 'W', 1234567],
  ['1.234.567,8', 'W', 1234567.8],
  ['1e3', 'W', 1000],
  ['2.5e-1', 'm', 0.25],
  ['12 V', 'V', 12],
  ['12V', 'V', 12],
  ['13,30 V', 'V', 13.3],
  ['350 mV', 'V', 0.35],
  ['40 A', 'A', 40],
  ['300 mA', 'A', 0.3],
  ['0.03 A', 'mA', 30],
  ['1.5 kW', 'W', 1500],
  ['110 Ah', 'Ah', 110],
  ['12 ft', 'm', 3.6576],
  ['12ft', 'm', 3.6576],
  ["12'", 'm', 3.6576],
  ['5 ft 6 in', 'm', 1.6764],
  ['5\'6"', 'm', 1.6764],
  ['18 in', 'm', 0.4572],
  ['350 cm', 'm', 3.5],
  ['4500 mm', 'm', 4.5],
  ['4,5 m', 'm', 4.5],
  ['7.5 in', 'mm', 190.5],
  ['19 cm', 'mm', 190],
  ['8 AWG', 'mm²', 8.36556406],
  ['16 mm2', 'mm²', 16],
  ['16 mm²', 'mm²', 16],
  ['95 °F', '°C', 35],
  ['14 F', '°C', -10],
  ['35 °C', '°C', 35],
  ['40 C', '°C', 40],
  ['3 lb', 'kg', 1.36077711],
  ['900 g', 'kg', 0.9],
  ['4 Nm', 'N·m', 4],
  ['35 lb·in', 'N·m', 3.954475],
  ['0.5 mΩ', 'mΩ', 0.5],
  ['0.5 mohm', 'mΩ', 0.5],
  ['0.003 Ω', 'mΩ', 3],
  ['50 %', 'share', 0.5],
  ['50%', 'share', 0.5],
  ['3 %', '%', 3],
  ['7 h 30 min', 'h', 7.5],
  ['7h30min', 'h', 7.5],
  ['90 min', 'h', 1.5],
  ['2 min 30 s', 's', 150],
  ['1 h', 's', 3600],
  ['1.5 h', 'min', 90],
  ['2 d', 'h', 48],
  ['10 s', 's', 10],
  ['-24 mV/°C', 'mV/K', -24],
  ['2.5 %/K', '%/K', 2.5],
  ['150 cm2', 'cm²', 150],
  ['20 in²', 'cm²', 129.032],
  ['10 l/s', 'm³/h', 36],
  ['18 months', 'years', 1.5],
  ['12 volts', 'V', 12],
  ['30 amps', 'A', 30],
  ['1 cable', 'cables', 1],
  ['2 cables', 'cables', 2],
  ['0.9 €/kWh', '€/kWh', 0.9],
]
const ASKED: [string, string][] = [
  ['1,000', 'Ah'],
  ['12,500', 'W'],
  ['999,999', 'W'],
  ['1,00,000', 'W'],
  ['1.2.3', 'V'],
  ['1.23.456', 'V'],
  ['1,2,3', 'V'],
  ['1.000,5,5', 'Ah'],
  ['1 00', 'A'],
  ['5 6', 'A'],
  ['1  000', 'A'],
  ['1/0', 'mm²'],
  ['1/2', 'm'],
  ['0x10', 'A'],
  ['1e', 'A'],
  ['Infinity', 'A'],
  ['NaN', 'A'],
  ['--5', 'A'],
  ['5-', 'A'],
  ['four', 'm'],
  ['12 V', 'A'],
  ['12 ft', 'V'],
  ['5 m', 's'],
  ['7:30', 'h'],
  ['30 min 7 h', 'h'],
  ['1 h 1 h', 'h'],
  ['5 horses', 'W'],
  ['12 12 V', 'V'],
  ['٣', 'm'],
  ['1_000', 'A'],
  ['.', 'A'],
  [',', 'A'],
]

/** In a house, or to a reader, of decimal commas: the comma is certain, and a point before three figures is asked about. */
const BY_COMMAS: [string, string, number | string][] = [
  ['1,000', 'Ah', 1],
  ['12,500', 'W', 12.5],
  ['3,125', 'm', 3.125],
  ['1.000', 'Ah', '1.000 ?'],
  ['-5.000', '°C', '-5.000 ?'],
  ['12.500 ft', 'm', '12.500 ?'],
  ['1.000 h', 'h', '1.000 h'],
  ['0.125', 'm', 0.125],
  ['13.62', 'V', 13.62],
  ['13.6251', 'V', 13.6251],
  ['1234.567', 'm', 1234.567],
  ['1.000,5', 'Ah', 1000.5],
  ['1,000.5', 'Ah', 1000.5],
  ['1.234.567', 'W', 1234567],
  ['1 000,500', 'Ah', 1000.5],
  ['1 000', 'Ah', 1000],
]
it.each(BY_COMMAS)('%j in %s is %j where decimals have commas', (typed, unit, stored) => {
  expect(readEntry(typed, unit, ',')).toBe(stored)
})

describe('an entry', () => {
  it.each(CERTAIN)('%j in %s is %j', (typed, unit, stored) => {
    expect(readEntry(typed, unit)).toBe(stored)
  })
  it.each(ASKED)('%j in %s is not guessed at', (typed, unit) => {
    expect(readEntry(typed, unit)).toBe(typed)
  })
})

describe('what is not certain', () => {
  it('is sent so that nobody takes it for a number, and shown as it was typed', () => {
    expect(unsure('1.000', ',')).toBe('1.000 ?') // a model would read one
    expect(unsure('1,000', '.')).toBe('1,000') // no model reads it
    expect(unsure('lead', ',')).toBe('lead')
    for (const typed of ['1.000', '-12.500', 'lead', '']) expect(asTyped(unsure(typed, ','))).toBe(typed)
  })
})

// Of readings, of sums and of the shelf, which no design has.
const ELSEWHERE = ['N·m', 'Wh', 'min']
it('is tried in the units that fields have', () => {
  const units = new Set(Object.values(FIELDS).map((field) => field.unit))
  const tried = [...CERTAIN, ...ASKED].map(([, unit]) => unit)
  expect(tried.filter((unit) => !units.has(unit) && !ELSEWHERE.includes(unit))).toEqual([])
})
