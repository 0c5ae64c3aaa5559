/** A moment of a trip as a level line: drops shared out along the path as the condition nearest to it has them. */
import type { ConditionLine, Trip } from '../api/types'
import { moment } from './tracks'

export interface MomentLine extends ConditionLine {
  moment: true
}

const isPiece = (item: ConditionLine['supply'][number]) => item.place !== 'alternator' && item.place !== 'start_battery'

/** The level line at a sample; `conditions` give the shape of the runs. */
export function momentOf(trip: Trip, at: number, conditions: readonly ConditionLine[]): MomentLine | null {
  const { series } = trip
  const engine = series.engine[at]
  const near =
    conditions.find((item) => item.key === (engine === 'off' || engine === 'crank' ? 'parked' : engine)) ??
    conditions[0]
  const shape =
    conditions.find((item) => item.key === near?.key && item.charging) ?? conditions.find((item) => item.charging)
  const [inputV, postV, inputA, outputA, auxiliaryV] = [
    series.input_v,
    series.post_v,
    series.input_a,
    series.output_a,
    series.auxiliary_v,
  ].map((values) => values[at] ?? 0)
  if (!near || inputV === undefined || postV === undefined || outputA === undefined || auxiliaryV === undefined)
    return null
  const charging = series.state[at] === 'charging' && outputA > 0
  const form = shape ?? near
  const first = form.supply.find(isPiece)?.enter_v ?? postV
  const drop = first - (form.input_v ?? form.supply.at(-1)?.exit_v ?? first) // out and back
  const share = charging && drop > 1e-6 ? (postV - inputV) / drop : 0
  const still = charging ? postV : inputV
  const supply = form.supply.map((item) =>
    isPiece(item)
      ? {
          ...item,
          enter_v: still - (first - item.enter_v) * share,
          exit_v: still - (first - item.exit_v) * share,
          return_enter_mv: item.return_enter_mv * share,
          return_exit_mv: item.return_exit_mv * share,
        }
      : { ...item, enter_v: still, exit_v: still },
  )
  const out = charging && form.output_a ? outputA / form.output_a : 0
  const end = form.auxiliary_v ?? auxiliaryV
  const delivery = form.delivery.map((item) => ({
    ...item,
    enter_v: auxiliaryV + (item.enter_v - end) * out,
    exit_v: auxiliaryV + (item.exit_v - end) * out,
    return_enter_mv: item.return_enter_mv * out,
    return_exit_mv: item.return_exit_mv * out,
  }))
  return {
    ...near,
    moment: true,
    label: `${moment(series.time_s[at] ?? 0)}, ${series.state[at]}, engine ${engine}`,
    charging,
    collapsed: false,
    below_minimum: false,
    alternator_limited: false,
    supply,
    delivery,
    source_v: still,
    input_v: inputV,
    input_a: charging ? (inputA ?? 0) : null,
    output_v: charging ? (delivery[0]?.enter_v ?? auxiliaryV) : null,
    output_a: charging ? outputA : null,
    auxiliary_v: auxiliaryV,
  }
}
