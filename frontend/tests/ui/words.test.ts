/** Names of fields from the models, and how numbers are written. */
import { describe, expect, it } from 'vitest'
import { FIELDS } from '../../src/api/fields.gen'
import { number, quantity, sizeAside } from '../../src/ui/format'
import { behind, counted } from '../../src/ui/counted'
import { fieldAt, fieldOf } from '../../src/ui/fields'

describe('fields', () => {
  it('are found for things in lists by what they are', () => {
    const job = {
      supply: {
        pieces: [
          { id: 'c7', kind: 'cable' },
          { id: 'b2', kind: 'branch', device: { rating_a: 5 } },
        ],
      },
      use: { loads: [{ id: 'l4' }] },
    }
    expect(fieldAt(job, 'supply.pieces.c7.length_m').unit).toBe('m')
    expect(fieldAt(job, 'supply.pieces.b2.device.rating_a').unit).toBe('A')
    expect(fieldAt(job, 'use.loads.l4.current_a')).toBe(FIELDS['use.loads.*.current_a'])
    expect(fieldAt(job, 'vehicle.readings.rest_v').label).toBe('Engine off, rested')
  })

  it('that no model knows are still called something', () => {
    expect(fieldAt({}, 'no.such_place').label).toBe('such place')
    expect(fieldOf('no.such').label).toBe('no.such')
  })

  it('all have a label without a program in it, and choices all have words', () => {
    for (const [path, field] of Object.entries(FIELDS).filter(([key]) => !key.endsWith('.sum'))) {
      expect(field.label, path).not.toMatch(/_|^[a-z]+[A-Z]/)
      for (const choice of field.choices ?? []) expect(choice.label, path).not.toContain('_')
    }
  })
})

describe('numbers', () => {
  it.each([
    // A number's line never ends before its unit.
    [13.456, 'V', '13.46\u00a0V'],
    [35.04, 'A', '35.0\u00a0A'],
    [0.4, 'W', '0\u00a0W'],
    [null, 'V', '–'],
    [0.9, '-', '0.90'],
    [0.55, 'share', '55\u00a0%'],
    [0.925, 'share', '92.5\u00a0%'],
    [1, 'yes/no', 'yes'],
    [0, 'yes/no', 'no'],
    [4038.6, 'A', '4039\u00a0A'],
  ])('%s %s is written %s', (value, unit, written) => {
    expect(quantity(value, unit)).toBe(written)
  })

  it('keep their digits by unit, and AWG tells its area', () => {
    expect(number(8.5299, 'mΩ')).toBe('8.53')
    expect(sizeAside('awg', 21.15)).toBe('21.1 mm²')
    expect(sizeAside('metric', 25)).toBe('')
  })
})

describe('a number', () => {
  it('agrees with its noun', () => {
    expect([counted(0, 'stop'), counted(1, 'stop'), counted(2, 'stop')]).toEqual(['0 stops', '1 stop', '2 stops'])
    expect([counted(1, 'entry', 'entries'), counted(3, 'entry', 'entries')]).toEqual(['1 entry', '3 entries'])
  })
  it('agrees with the word behind it in a field, which a sign does not', () => {
    expect([behind('1', 'cables'), behind('2', 'cables'), behind('', 'days')]).toEqual(['cable', 'cables', 'days'])
    expect([behind('1', 's'), behind('1', 'V'), behind('1.5', 'years')]).toEqual(['s', 'V', 'years'])
  })
})
