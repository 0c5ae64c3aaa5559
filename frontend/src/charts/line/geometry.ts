/** Where everything on the level line stands: stations along x, volts along y. Draws nothing itself. */
import { range } from 'd3-array'
import { scaleLinear } from 'd3-scale'
import type { ConditionLine, Design, Piece, RunName, WakeBands } from '../../api/types'

export interface Station {
  place: string
  kind: 'alternator' | 'start_battery' | 'device' | 'cable' | 'joint' | 'branch' | 'charger' | 'auxiliary'
  x0: number
  x1: number
  x: number
  run: RunName | null
  piece: Piece | null
}

export interface Layout {
  stations: Station[]
  width: number
  byPlace: Map<string, Station>
}

const WEIGHT = {
  alternator: 78,
  start_battery: 96,
  device: 70,
  cable: 140,
  joint: 58,
  branch: 66,
  charger: 118,
  auxiliary: 100,
} as const
const LEFT = 44
const RIGHT = 52

/** Lay the stations of a design out over `width`; a line with many pieces grows wider than asked. */
export function layOut(design: Design, width: number, selected: string): Layout {
  const wanted: { place: string; kind: Station['kind']; run: RunName | null; piece: Piece | null; weight: number }[] =
    []
  const add = (place: string, kind: Station['kind'], run: RunName | null = null, piece: Piece | null = null) => {
    const factor = kind === 'cable' && place === selected ? 1.5 : kind === 'cable' && shortCable(piece) ? 0.6 : 1
    wanted.push({ place, kind, run, piece, weight: WEIGHT[kind] * factor })
  }
  add('alternator', 'alternator')
  add('start_battery', 'start_battery')
  design.supply?.pieces?.forEach((piece) => add(piece.id ?? '', kindOf(piece), 'supply', piece))
  add('charger', 'charger')
  design.delivery?.pieces?.forEach((piece) => add(piece.id ?? '', kindOf(piece), 'delivery', piece))
  add('auxiliary', 'auxiliary')
  const total = wanted.reduce((sum, item) => sum + item.weight, 0)
  const scale = Math.max((width - LEFT - RIGHT) / total, 0.74)
  let x = LEFT
  const stations = wanted.map((item) => {
    const x0 = x
    x += item.weight * scale
    return { place: item.place, kind: item.kind, run: item.run, piece: item.piece, x0, x1: x, x: (x0 + x) / 2 }
  })
  return { stations, width: x + RIGHT, byPlace: new Map(stations.map((item) => [item.place, item])) }
}

function kindOf(piece: Piece): 'device' | 'cable' | 'joint' | 'branch' {
  return piece.kind ?? 'cable'
}
function shortCable(piece: Piece | null): boolean {
  return piece?.kind === 'cable' && Number((piece as { length_m: number }).length_m) < 1
}

export interface VoltScale {
  low: number
  high: number
  ticks: number[]
  /** y of a voltage, on a side of `nominal` volts. */
  y: (volts: number, nominal: number) => number
}

/** One scale for both sides, in volts per 12 V nominal. */
export function voltScale(
  lines: readonly ConditionLine[],
  wake: WakeBands,
  systemV: number,
  auxiliaryV: number,
  top: number,
  bottom: number,
): VoltScale {
  const seen: number[] = []
  for (const line of lines) {
    for (const piece of line.supply) seen.push(piece.enter_v / systemV, piece.exit_v / systemV)
    for (const piece of line.delivery) seen.push(piece.enter_v / auxiliaryV, piece.exit_v / auxiliaryV)
    if (line.input_v !== null) seen.push(line.input_v / systemV)
    if (line.output_v !== null) seen.push(line.output_v / auxiliaryV)
  }
  for (const mark of wake.marks) if (mark.acts && mark.kind !== 'back') seen.push(mark.value_v / systemV)
  const lowest = Math.max(Math.min(...seen) * 12, 6)
  const highest = Math.min(Math.max(...seen) * 12, 18)
  const step = highest - lowest > 4 ? 1 : 0.5
  const low = Math.floor((lowest - 0.15) / step) * step
  const high = Math.ceil((highest + 0.1) / step) * step
  const scale = scaleLinear([low, high], [bottom, top])
  const y = (volts: number, nominal: number) => scale((volts / nominal) * 12)
  return { low, high, ticks: range(low, high + step / 2, step), y }
}

/** Move labels apart so that none overlap, keeping their order and moving them as little as may be.
 *
 * Less its place in the row times the gap, each label may not stand before the one above: isotonic regression by
 * pooling neighbours that do.
 */
export function spread(wanted: readonly number[], gap: number, top: number, bottom: number): number[] {
  const order = wanted.map((y, at) => ({ y, at })).sort((a, b) => a.y - b.y)
  const pools: { sum: number; count: number }[] = []
  order.forEach((item, row) => {
    pools.push({ sum: item.y - row * gap, count: 1 })
    for (let last = pools.length - 1; last > 0; last -= 1) {
      const [above, below] = [pools[last - 1], pools[last]]
      if (!above || !below || above.sum / above.count <= below.sum / below.count) break
      pools.splice(last - 1, 2, { sum: above.sum + below.sum, count: above.count + below.count })
    }
  })
  const lowest = Math.max(top, bottom - (order.length - 1) * gap)
  const shifts = pools.flatMap((pool) => Array<number>(pool.count).fill(pool.sum / pool.count))
  const result = [...wanted]
  order.forEach((item, row) => {
    result[item.at] = Math.min(Math.max(shifts[row] ?? 0, top), lowest) + row * gap
  })
  return result
}
