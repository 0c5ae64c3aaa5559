/** A condition's line as points on the drawing, and where it falls off when the run cannot carry the power. */
import { line } from 'd3-shape'
import type { ConditionLine } from '../../api/types'
import type { Layout, VoltScale } from './geometry'

export interface Point {
  x: number
  y: number
}
export interface Curve {
  supply: string
  delivery: string
  fall: string
  end: Point | null
  start: Point | null
}

const drawn = line<Point>(
  (point) => point.x,
  (point) => point.y,
).digits(1)
const path = (points: Point[]) => drawn(points) ?? ''

/** Points along the supply side, up to the unit's input. */
export function supplyPoints(line: ConditionLine, layout: Layout, scale: VoltScale, systemV: number): Point[] {
  const points: Point[] = []
  for (const piece of line.supply) {
    const station = layout.byPlace.get(piece.place)
    if (station === undefined) continue
    if (station.run === null) points.push({ x: station.x, y: scale.y(piece.exit_v, systemV) })
    else
      points.push(
        { x: station.x0, y: scale.y(piece.enter_v, systemV) },
        { x: station.x1, y: scale.y(piece.exit_v, systemV) },
      )
  }
  return points
}

/** Points along the delivery side, from the unit's output to the auxiliary battery. */
export function deliveryPoints(line: ConditionLine, layout: Layout, scale: VoltScale, auxiliaryV: number): Point[] {
  const points: Point[] = []
  for (const piece of line.delivery) {
    const station = layout.byPlace.get(piece.place)
    if (station === undefined) continue
    points.push(
      { x: station.x0, y: scale.y(piece.enter_v, auxiliaryV) },
      { x: station.x1, y: scale.y(piece.exit_v, auxiliaryV) },
    )
  }
  const last = layout.byPlace.get('auxiliary')
  if (last !== undefined && line.auxiliary_v !== null) {
    const y = scale.y(line.auxiliary_v, auxiliaryV)
    if (points.length === 0) points.push({ x: layout.byPlace.get('charger')?.x1 ?? last.x0, y })
    points.push({ x: last.x, y })
  }
  return points
}

/** Both halves of a condition's line; a collapsed one falls off the drawing before the unit. */
export function curve(
  line: ConditionLine,
  layout: Layout,
  scale: VoltScale,
  systemV: number,
  auxiliaryV: number,
  floor: number,
): Curve {
  const supply = supplyPoints(line, layout, scale, systemV)
  const delivery = deliveryPoints(line, layout, scale, auxiliaryV)
  const unit = layout.byPlace.get('charger')
  const inputX = unit?.x0 ?? 0
  if (!line.collapsed) {
    const last = supply.at(-1)
    if (last !== undefined && last.x < inputX) supply.push({ x: inputX, y: last.y })
    return {
      supply: path(supply),
      delivery: path(delivery),
      fall: '',
      end: supply.at(-1) ?? null,
      start: delivery[0] ?? null,
    }
  }
  const stable = supply.slice(0, 2)
  const from = stable.at(-1) ?? { x: 0, y: 0 }
  const fall = `M${from.x} ${from.y}C${from.x + (inputX - from.x) * 0.55} ${from.y} ${inputX - 24} ${from.y + 20} ${inputX - 8} ${floor + 16}`
  return {
    supply: path(stable),
    delivery: path(delivery),
    fall,
    end: { x: inputX - 8, y: floor },
    start: delivery[0] ?? null,
  }
}
