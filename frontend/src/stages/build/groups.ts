/** Parts of the work: what they are called and the shape of their knots. */
export const GROUPS: Record<string, string> = {
  prepare: 'Prepare',
  make_safe: 'Make safe',
  take_out: 'Take out and re-use',
  mount: 'Mount',
  route: 'Route',
  terminate: 'Terminate',
  dead_checks: 'Dead checks',
  first_power: 'First power',
  key_in: 'Key in',
  connect: 'Connect',
  enable: 'Enable',
  put_back: 'Put back',
}
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
