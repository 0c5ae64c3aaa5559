/** Values read back, and the time axis of the charge picture. */
import { describe, expect, it } from 'vitest'
import type { Audit } from '../../src/api/types'
import { spanOf } from '../../src/stages/settings/curves'
import { sameValue } from '../../src/stages/settings/keyed'

describe('sameValue', () => {
  it.each([
    ['14.2', '14.2 V', true],
    ['14,2 V', '14.20 V', true],
    ['14.2 A', '14.2 V', false],
    ['14.3', '14.2 V', false],
    ['Lithium', 'lithium', true],
    ['lead', 'lithium', false],
    ['-24 mV/K', '-24 mV/K', true],
  ])('%s against %s', (seen, wanted, same) => {
    expect(sameValue(seen, wanted)).toBe(same)
  })
})

describe('spanOf', () => {
  const audit = (...sources: object[]) => ({ sources }) as unknown as Audit
  it('ends a little after the slowest that fills', () => {
    expect(spanOf(audit({ kind: 'unit', hours_full: 2 }, { kind: 'mains_charger', hours_full: 6 }))).toBe(7)
  })
  it('shows two hours at least, and two days at most', () => {
    expect(spanOf(audit({ kind: 'unit', hours_full: 0.5 }))).toBe(2)
    expect(spanOf(audit({ kind: 'unit', hours_full: 400 }))).toBe(48)
  })
  it('does not wait for the sun', () => {
    expect(spanOf(audit({ kind: 'solar', hours_full: 90 }, { kind: 'unit', hours_full: 4 }))).toBe(5)
  })
})
