import { describe, expect, it, vi } from 'vitest'
import { entered, fixed, localised, said, whole } from '../../src/ui/locale'
import { plainNumber } from '../../src/ui/number'

describe('numbers by the reader', () => {
  it('writes the decimal mark and no other', () => {
    expect(fixed(13.345, 2, ',')).toBe('13,35')
    expect(fixed(13.345, 2, '.')).toBe('13.35')
    expect(fixed(undefined, 2, ',')).toBe('')
  })
  it('never shows an entry that would be read as another number', () => {
    for (const value of [0.5, -0.2, 12, 1.234, -12.345, 123.456, 1234.5, 0.001, 12.34, 1e-7, 14.4])
      for (const mark of [',', '.'] as const) expect(plainNumber(entered(value, mark), mark)).toBe(value)
  })
  it('turns numbers in sentences, and leaves standards, clauses and versions as they are', () => {
    expect(said('Drops 0.31 V at 46.8 A.', ',')).toBe('Drops 0,31 V at 46,8 A.')
    expect(said('IEC 60364-5-52:2009 Table B.52.3', ',')).toBe('IEC 60364-5-52:2009 Table B.52.3')
    expect(said('clause 1.2.3 holds', ',')).toBe('clause 1.2.3 holds')
    expect(said('13.4.', ',')).toBe('13,4.')
  })
  it("turns what is said, and nothing that goes back or is somebody's own", () => {
    const answer = {
      findings: [{ level: 'stop', title: 'Drops 3.1 %', changes: [{ value: '2.5 mm²', text: '2.5' }] }],
      title: 'Van 2.1',
      design: { text: '1.5' },
    }
    expect(localised(answer, ',')).toEqual({
      findings: [{ level: 'stop', title: 'Drops 3,1 %', changes: [{ value: '2.5 mm²', text: '2.5' }] }],
      title: 'Van 2.1',
      design: { text: '1.5' },
    })
  })
})

it('turns lists of sentences and what ends in text, and keeps lists of names', () => {
  const answer = {
    risks: ['wants 14.50 V'],
    speaks_for: ['0.98 V above rest'],
    order_text: '2.5 h each',
    sizes: ['2.5 mm²'],
    lamps: ['blinks 2.5 times'],
  }
  expect(localised(answer, ',')).toEqual({
    ...answer,
    risks: ['wants 14,50 V'],
    speaks_for: ['0,98 V above rest'],
    order_text: '2,5 h each',
  })
})

it('sets thousands apart by neither mark', () => {
  expect([7, 999, 1000, 34160, 1234567].map(whole)).toEqual([
    '7',
    '999',
    '1\u202f000',
    '34\u202f160',
    '1\u202f234\u202f567',
  ])
})

it("a line of a device's menu keeps its label, whatever the house reads", () => {
  const answer = { lines: [{ was: '0 °C', label: 'Stop at 4.5 m', why: '4.5 m' }] }
  expect(localised(answer, ',').lines[0]).toEqual({ was: '0 °C', label: 'Stop at 4.5 m', why: '4,5 m' })
})

it.each([
  ['de-CH', 'de-CH'],
  ['en_US@posix', 'en-GB'],
  ['', 'en-GB'],
  [undefined, 'en-GB'],
])('a reader whose device calls the language %s', async (language, read) => {
  vi.stubGlobal('navigator', language === undefined ? undefined : { language })
  vi.resetModules()
  const { LOCALE } = await import('../../src/ui/house')
  vi.unstubAllGlobals()
  expect(LOCALE).toBe(read)
})
