/** Parts of the work: what they are called, in the model's words, and the shape of their knots. */
import { fieldOf } from '../../ui/fields'

export const GROUPS: Record<string, string> = Object.fromEntries(
  (fieldOf('own_steps.*.group').choices ?? []).map((item) => [String(item.value), item.label]),
)
const circle = 'M7 1a6 6 0 1 0 .01 0z'
const square = 'M2 2h10v10H2z'
const diamond = 'M7 0l7 7-7 7-7-7z'
const triangle = 'M7 1l6.5 12H.5z'
const bar = 'M1 5h12v4H1z'
const cross = 'M5 1h4v4h4v4H9v4H5V9H1V5h4z'
export const KNOTS: Record<string, string> = {
  prepare: circle,
  make_safe: triangle,
  take_out: cross,
  mount: square,
  route: bar,
  terminate: diamond,
  dead_checks: circle,
  first_power: triangle,
  key_in: square,
  connect: diamond,
  enable: triangle,
  put_back: circle,
}
