/** A band's figures stay apart however far out the reading is; an open side has no figure of its own. */
import { expect, test } from 'vitest'
import { parted, scaled } from '../../src/stages/prove/bandScale'

const TALL = 160
const of = (least: number | null, most: number | null, reading: number | null, doubtful: number | null = null) =>
  scaled({ least, most, reading, doubtful, out_by: 0.1 }, TALL)

test.each([0.1, 0.25, 0.6, 2, 40, 1e6, -3, -1e6])(
  'a reading of %d leaves the band legible and lies on its own side',
  (reading) => {
    const { y, band } = of(0, 0.5, reading)
    expect(band[1] - band[0]).toBeGreaterThanOrEqual(45)
    expect(y(reading)).toBeGreaterThanOrEqual(22)
    expect(y(reading)).toBeLessThanOrEqual(TALL - 12)
    expect(y(reading) > band[1]).toBe(reading < 0)
    expect(y(reading) < band[0]).toBe(reading > 0.5)
  },
)

test('what lies beyond is said to, and on which side; what the meter is out by is drawn where the reading stands', () => {
  const out = (reading: number | null) => of(13.4, 13.8, reading).out
  expect([out(null), out(13.6), out(13.9), out(45), out(0)]).toEqual([null, null, null, 'above', 'below'])
  const { y, spread } = of(13.4, 13.8, 13.6)
  expect(spread).toEqual([y(13.7), y(13.5)])
  expect([of(13.4, 13.8, 45).spread, of(13.4, 13.8, null).spread]).toEqual([null, null])
})

test('what is no more than doubtful lies above and below the band', () => {
  const { y, band, doubtful } = of(13.4, 13.8, null, 0.1)
  expect(doubtful).toEqual([
    [y(13.9), band[0]],
    [band[1], y(13.3)],
  ])
  expect(of(13.4, 13.8, null).doubtful).toEqual([])
})

test('with one bound alone the band runs to the edge', () => {
  const least = of(1000, null, 12)
  expect(least.band[0]).toBe(22)
  expect(least.band[1]).toBeLessThan(least.y(12))
  expect(of(1000, null, 5e6).out).toBe('above')
  const most = of(null, 60, 20)
  expect(most.band[1]).toBe(TALL - 12)
  expect(most.y(20)).toBeGreaterThan(most.band[0])
  expect(most.wide).toBe(60)
})

test('figures are parted around the first', () => {
  expect(parted([])).toEqual([])
  expect(parted([80, 40, 120])).toEqual([80, 40, 120])
  expect(parted([80, 78, 84])).toEqual([80, 65, 95])
  expect(parted([80, 90, 85])).toEqual([80, 110, 95])
})

test('less than nothing is drawn only where it was read', () => {
  expect(of(0, 0.5, 0.2).ticks.every((tick) => tick >= 0)).toBe(true)
  expect(of(0, 0.5, 0.2).band[1]).toBe(TALL - 12)
  expect(of(0, 0.5, -0.4).ticks.some((tick) => tick < 0)).toBe(true)
  expect(of(-5, 5, null).ticks.some((tick) => tick < 0)).toBe(true)
})
