/** A band's figures stay apart however far out the reading is; an open side has no figure of its own. */
import { expect, test } from 'vitest'
import { scaled } from '../../src/stages/prove/bandScale'

const CASES = [0.1, 0.25, 0.6, 2, 40, 1e6, -3, -1e6].flatMap((reading) =>
  [320, 480, 720].map((width) => [reading, width] as const),
)

test.each(CASES)('a reading of %d in %d pixels leaves the band legible and lies on its own side', (reading, width) => {
  const { x, band } = scaled({ least: 0, most: 0.5, reading }, width)
  expect(band[1] - band[0]).toBeGreaterThanOrEqual(85)
  expect(band[0]).toBeGreaterThanOrEqual(50)
  expect(band[1]).toBeLessThanOrEqual(width - 50)
  expect(x(reading)).toBeGreaterThanOrEqual(8)
  expect(x(reading)).toBeLessThanOrEqual(width - 8)
  expect(x(reading) < band[0]).toBe(reading < 0)
  expect(x(reading) > band[1]).toBe(reading > 0.5)
})

test('what lies beyond is said to, and on which side', () => {
  const out = (reading: number | null) => scaled({ least: 13.4, most: 13.8, reading }, 480).out
  expect([out(null), out(13.6), out(13.9), out(45), out(0)]).toEqual([null, null, null, 'above', 'below'])
})

test('with one bound alone the band runs to the edge', () => {
  const least = scaled({ least: 1000, most: null, reading: 12 }, 480)
  expect(least.band[1]).toBe(472)
  expect(least.band[0]).toBeGreaterThan(least.x(12))
  expect(scaled({ least: 1000, most: null, reading: 5e6 }, 480).out).toBe('above')
  const most = scaled({ least: null, most: 60, reading: 20 }, 480)
  expect(most.band[0]).toBe(8)
  expect(most.x(20)).toBeLessThan(most.band[1])
  expect(most.wide).toBe(60)
})
