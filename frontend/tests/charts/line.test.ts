/** Where things stand on the level line. */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { ConditionLine, Design, WakeBands } from '../../src/api/types'
import { curve } from '../../src/charts/line/curves'
import { layOut, spread, voltScale } from '../../src/charts/line/geometry'

const cable = (id: string, length_m: number) => ({ id, kind: 'cable', size: '16 mm²', length_m })
const design = {
  supply: { pieces: [{ id: 'd1', kind: 'device', family: 'class_t', rating_a: 60 }, cable('c1', 4), cable('c2', 0.3)] },
  delivery: { pieces: [cable('c3', 1)] },
} as unknown as Design
const at = (place: string, enter_v: number, exit_v: number) => ({
  place,
  enter_v,
  exit_v,
  return_enter_mv: 0,
  return_exit_mv: 0,
})
const line = {
  key: 'idle',
  label: 'Hot idle',
  supply: [at('alternator', 13.9, 13.9), at('start_battery', 13.9, 13.9), at('c1', 13.9, 13.5), at('c2', 13.5, 13.4)],
  delivery: [at('c3', 14.3, 14.2)],
  input_v: 13.3,
  output_v: 14.35,
  auxiliary_v: 14.2,
  collapsed: false,
} as unknown as ConditionLine
const wake = { marks: [] } as unknown as WakeBands

describe('stations', () => {
  it('stand in the order of the path, by identity, without overlapping', () => {
    const { stations, byPlace } = layOut(design, 1200, 'c1')
    const order = ['alternator', 'start_battery', 'd1', 'c1', 'c2', 'charger', 'c3', 'auxiliary']
    expect(stations.map((station) => station.place)).toEqual(order)
    stations.slice(1).forEach((station, index) => {
      expect(station.x0).toBeCloseTo(stations[index]?.x1 ?? NaN)
    })
    expect(byPlace.get('c2')?.run).toBe('supply')
  })

  it('keep their least width: a crowded line grows wider than asked for', () => {
    const many = { ...design, supply: { pieces: Array.from({ length: 14 }, (_, n) => cable(`c${n + 10}`, 2)) } }
    expect(layOut(many as unknown as Design, 700, '').width).toBeGreaterThan(700)
  })
})

describe('the volt scale', () => {
  it('holds everything drawn and falls evenly', () => {
    const scale = voltScale([line], wake, 12, 12, 20, 180)
    for (const volts of [13.3, 13.9, 14.35]) {
      expect(scale.y(volts, 12)).toBeGreaterThanOrEqual(20)
      expect(scale.y(volts, 12)).toBeLessThanOrEqual(180)
    }
    expect(scale.y(14, 12)).toBeLessThan(scale.y(13, 12))
    expect(scale.y(28, 24)).toBeCloseTo(scale.y(14, 12))
  })
})

describe('a condition', () => {
  const layout = layOut(design, 1200, 'c1')
  const scale = voltScale([line], wake, 12, 12, 20, 180)
  it('runs to the unit and on from it', () => {
    const drawn = curve(line, layout, scale, 12, 12, 180)
    expect(drawn.fall).toBe('')
    expect(drawn.end?.x).toBeCloseTo(layout.byPlace.get('charger')?.x0 ?? NaN)
    expect(drawn.start?.x).toBeCloseTo(layout.byPlace.get('c3')?.x0 ?? NaN)
  })

  it('that collapses falls off before the unit', () => {
    const drawn = curve({ ...line, collapsed: true }, layout, scale, 12, 12, 180)
    expect(drawn.fall).not.toBe('')
    expect(drawn.end?.x ?? Infinity).toBeLessThan(layout.byPlace.get('charger')?.x0 ?? 0)
  })
})

describe('labels', () => {
  it('are moved apart in their order, and stay inside', () => {
    const wanted = fc.array(fc.double({ min: 0, max: 300, noNaN: true }), { minLength: 1, maxLength: 8 })
    fc.assert(
      fc.property(wanted, (ys) => {
        const placed = spread(ys, 14, 0, 300)
        const order = ys.map((y, index) => ({ y, index })).sort((a, b) => a.y - b.y)
        order.slice(1).forEach((item, index) => {
          const before = placed[order[index]?.index ?? 0] ?? 0
          expect((placed[item.index] ?? 0) - before).toBeGreaterThan(13.5)
        })
      }),
    )
  })
})
