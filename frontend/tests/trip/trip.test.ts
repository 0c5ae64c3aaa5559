/** A day as text and as blocks, and the axes of its picture. */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { blocksOf, ENGINES, secondsOf, textOf, tidy, UNITS, widthOf, type Unit } from '../../src/trip/blocks'
import { duration, moment, pathOf, timeTicks } from '../../src/trip/tracks'
import { useZoom } from '../../src/trip/zoom'

const stretch = fc
  .record({
    engine: fc.constantFrom(...ENGINES),
    amount: fc.integer({ min: 1, max: 600 }),
    unit: fc.constantFrom(...(Object.keys(UNITS) as Unit[])),
    more: fc.constantFrom('', 'load 4 A', 'sun 80 W', 'ambient -5 °C'),
  })
  .map(({ engine, amount, unit, more }) => `${engine} ${amount} ${unit}${more && ` ${more}`}`)
const day = fc.array(fc.oneof({ weight: 5, arbitrary: stretch }, { weight: 1, arbitrary: fc.constant('repeat 3') }))

describe('blocks', () => {
  it('say the same as the text they were read from', () => {
    fc.assert(
      fc.property(day, (lines) => {
        const plain = (text: string) =>
          text
            .split('\n')
            .map((line) => line.trim())
            .filter(Boolean)
        expect(plain(textOf(blocksOf(lines.join('\n'))))).toEqual(lines)
      }),
    )
  })

  it('leave alone what they do not know', () => {
    const text = 'begin auxiliary 60 %\ncruise 1 h\nhover 3 min\n'
    expect(textOf(blocksOf(text))).toBe(text)
    expect(blocksOf(text).map((block) => block.kind)).toEqual(['other', 'stretch', 'other'])
  })

  it.each(['off 1,000 min', 'idle 1.2.3 h', 'cruise .. s', 'low 1,2,3 min'])('leave “%s” as it stands', (line) => {
    expect(blocksOf(line).map((block) => block.kind)).toEqual(['other'])
    expect(textOf(blocksOf(line))).toBe(`${line}\n`)
  })

  it('indent what is repeated', () => {
    expect(textOf(blocksOf('repeat 2\nidle 1 min\nend\noff 5 min'))).toBe('repeat 2\n  idle 1 min\nend\noff 5 min\n')
  })

  it('take a decimal comma', () => {
    expect(secondsOf(blocksOf('cruise 1,5 h')[0] ?? fail())).toBe(5400)
  })

  it('stand wider for longer, and a crank is still seen beside a night', () => {
    const width = (line: string) => widthOf(blocksOf(line)[0] ?? fail())
    expect(width('off 8 h')).toBeGreaterThan(width('cruise 20 min'))
    expect(width('crank 2 s') / width('off 12 h')).toBeGreaterThan(0.08)
  })

  it.each([
    [90, 90, 's'],
    [600, 10, 'min'],
    [5400, 90, 'min'],
    [28800, 8, 'h'],
    [259200, 3, 'd'],
  ])('%d s are tidied to %d %s', (seconds, amount, unit) => {
    expect(tidy(seconds)).toEqual({ amount, unit })
  })
})

function fail(): never {
  throw new Error('no block')
}

describe('times', () => {
  it.each([
    [0, '0 s'],
    [59, '59 s'],
    [725, '12 min 5 s'],
    [22320, '6 h 12 min'],
    [90000, '1 d 1 h'],
  ])('%d s are said as a moment: %s', (seconds, said) => {
    expect(moment(seconds)).toBe(said)
  })

  it.each([
    [100, '100 s'],
    [600, '10 min'],
    [9000, '2.5 h'],
    [259200, '3 d'],
  ])('%d s are said as a duration: %s', (seconds, said) => {
    expect(duration(seconds)).toBe(said)
  })

  it('are marked at round moments inside the picture, never more than asked for', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e6 }), fc.integer({ min: 30, max: 2e6 }), (from, wide) => {
        const ticks = timeTicks(from, from + wide, 8)
        expect(ticks.length).toBeLessThanOrEqual(8)
        expect(ticks.every((tick) => tick >= from - 1e-6 && tick <= from + wide + 1e-6)).toBe(true)
        const steps = new Set(ticks.slice(1).map((tick, at) => tick - (ticks[at] ?? 0)))
        expect(steps.size).toBeLessThanOrEqual(1)
      }),
    )
  })
})

describe('a line through samples', () => {
  const same = (value: number) => value
  it('holds quick quantities until the next sample, and joins slow ones', () => {
    expect(pathOf([0, 10], [1, 3], same, same, false)).toBe('M0,1L10,1L10,3')
    expect(pathOf([0, 10], [1, 3], same, same, true)).toBe('M0,1L10,3')
  })
})

describe('zoom', () => {
  it('stays inside the trip and keeps the moment it closes in on', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 3600, noNaN: true }),
        fc.double({ min: 0.1, max: 4, noNaN: true }),
        (at, by) => {
          const zoom = useZoom(() => 3600)
          zoom.around(at, by)
          expect(zoom.from.value).toBeGreaterThanOrEqual(0)
          expect(zoom.to.value).toBeLessThanOrEqual(3600 + 1e-6)
          expect(at).toBeGreaterThanOrEqual(zoom.from.value - 1e-6)
          expect(at).toBeLessThanOrEqual(zoom.to.value + 1e-6)
          zoom.whole()
          expect(zoom.zoomed.value).toBe(false)
        },
      ),
    )
  })
})
