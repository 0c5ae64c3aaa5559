/** The shelves: names, what a row shows, what it is called. */
import { getAt } from '../job/path'
import { entered } from '../ui/locale'
import { standing } from '../ui/units'

export type Kind = 'chargers' | 'batteries' | 'alternators' | 'cables' | 'devices' | 'other_chargers' | 'monitors'
export interface ShelfColumn {
  path: string
  label: string
  num?: boolean
  unit?: string
}
export interface KindInfo {
  kind: Kind
  label: string
  one: string
  columns: ShelfColumn[]
}
const UNITS: KindInfo = {
  kind: 'chargers',
  label: 'Units',
  one: 'unit',
  columns: [
    { path: 'name', label: 'Unit' },
    { path: 'maker', label: 'Maker' },
    { path: 'input_nominal_v', label: 'In', num: true, unit: 'V' },
    { path: 'output_nominal_v', label: 'Out', num: true, unit: 'V' },
    { path: 'output_a', label: 'Current', num: true, unit: 'A' },
    { path: 'isolated', label: 'Isolated' },
    { path: 'current_limit', label: 'Turn-down' },
    { path: 'dual_input', label: 'Second input' },
    { path: 'price', label: 'Price', num: true, unit: '€' },
  ],
}
export const KINDS: KindInfo[] = [
  UNITS,
  {
    kind: 'batteries',
    label: 'Batteries',
    one: 'battery',
    columns: [
      { path: 'battery.name', label: 'Battery' },
      { path: 'maker', label: 'Maker' },
      { path: 'battery.chemistry', label: 'Chemistry' },
      { path: 'battery.nominal_v', label: 'Nominal', num: true, unit: 'V' },
      { path: 'battery.capacity_ah', label: 'Capacity', num: true, unit: 'Ah' },
      { path: 'battery.charge_limit_a', label: 'Charge limit', num: true, unit: 'A' },
      { path: 'battery.absorption_v', label: 'Absorption', num: true, unit: 'V' },
      { path: 'price', label: 'Price', num: true, unit: '€' },
    ],
  },
  {
    kind: 'alternators',
    label: 'Alternators',
    one: 'alternator',
    columns: [
      { path: 'alternator.name', label: 'Alternator' },
      { path: 'nominal_v', label: 'Nominal', num: true, unit: 'V' },
      { path: 'alternator.rated_a', label: 'Rated', num: true, unit: 'A' },
      { path: 'alternator.regulation', label: 'Regulation' },
      { path: 'alternator.hot_idle_share', label: 'Share at hot idle', num: true, unit: 'share' },
    ],
  },
  {
    kind: 'cables',
    label: 'Cables',
    one: 'drum',
    columns: [
      { path: 'size', label: 'Size' },
      { path: 'price_per_m', label: 'Price', num: true, unit: '€/m' },
      { path: 'stock_m', label: 'In stock', num: true, unit: 'm' },
      { path: 'source', label: 'Source' },
    ],
  },
  {
    kind: 'devices',
    label: 'Devices',
    one: 'device',
    columns: [
      { path: 'family', label: 'Family' },
      { path: 'rating_a', label: 'Rating', num: true, unit: 'A' },
      { path: 'price', label: 'Price', num: true, unit: '€' },
      { path: 'stock', label: 'In stock', num: true },
      { path: 'source', label: 'Source' },
    ],
  },
  {
    kind: 'other_chargers',
    label: 'Solar and mains',
    one: 'charger',
    columns: [
      { path: 'name', label: 'Charger' },
      { path: 'maker', label: 'Maker' },
      { path: 'kind', label: 'Kind' },
      { path: 'nominal_v', label: 'Battery', num: true, unit: 'V' },
      { path: 'output_a', label: 'Current', num: true, unit: 'A' },
      { path: 'stages.wakes', label: 'Wakes a pack' },
      { path: 'price', label: 'Price', num: true, unit: '€' },
    ],
  },
  {
    kind: 'monitors',
    label: 'Monitors',
    one: 'monitor',
    columns: [
      { path: 'monitor.name', label: 'Monitor' },
      { path: 'monitor.maker', label: 'Maker' },
      { path: 'monitor.shunt_a', label: 'Shunt', num: true, unit: 'A' },
      { path: 'monitor.zero_error_ma', label: 'Zero error', num: true, unit: 'mA' },
      { path: 'price', label: 'Price', num: true, unit: '€' },
    ],
  },
]

/** Where a kind keeps its menu; empty where it has none. */
export const MENU_AT: Partial<Record<Kind, string>> = {
  chargers: 'settings',
  other_chargers: 'stages.settings',
  monitors: 'monitor.settings',
}

/** A shelf by its name in the address; the units where there is no such one. */
export const kindOf = (name: unknown): KindInfo => KINDS.find((item) => item.kind === name) ?? UNITS

/** A value of an item as a cell shows it. */
export function cell(document: unknown, path: string, unit = ''): string {
  const value = getAt(document, path)
  if (value === null || value === undefined || value === '') return '–'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  return typeof value === 'number' ? entered(standing(value, unit)) : String(value).replace(/_/g, ' ')
}
