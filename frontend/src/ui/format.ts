/** How numbers are written; digits follow the unit, as in the core. */
import { asThere, fixed } from './locale'
import { AFTER_NUMBER } from './tied'
import { digitsIn, unitSaid, UNITS, spanIn, valueIn } from './units'

const DIGITS: Record<string, number> = {
  V: 2,
  A: 1,
  W: 0,
  mΩ: 2,
  '%': 1,
  '°C': 0,
  h: 1,
  Ah: 0,
  mV: 0,
  s: 0,
  '×': 1,
  'mm²': 2,
  days: 1,
  mA: 0,
  'Ah/h': 1,
  '€': 0,
}

const YES_NO = 'yes/no' // of what holds or does not: 1 or 0
const LARGE = 1000 // from here on no decimals, as in the core

/** From here on a meter's ohms tell no more than that nothing conducts. */
export const OVER_RANGE_OHM = 1e6

/** Ohms as a meter shows them, with a larger unit from a thousand on; nothing where they are few. */
function manyOhms(value: number | null | undefined, unit: string): string {
  if (value === null || value === undefined || unit !== 'Ω' || value < 1000) return ''
  return value >= OVER_RANGE_OHM ? `over ${fixed(1, 0)}${AFTER_NUMBER}MΩ` : `${fixed(value / 1000, 1)}${AFTER_NUMBER}kΩ`
}

/** A number at its unit's digits, or a dash where there is none. */
export function number(value: number | null | undefined, unit: string): string {
  if (value === null || value === undefined) return '–'
  if (unit === YES_NO) return value ? 'yes' : 'no'
  return inHouse(value, unit, Math.abs(value) >= LARGE ? 0 : (DIGITS[unit] ?? 2))
}

/** A number of a unit at so many of its digits, in the house's unit. */
export function inHouse(value: number, unit: string, digits: number): string {
  const shown = valueIn(value, unit)
  return fixed(shown, digitsIn(digits, shown, unit))
}

/** A difference of a unit, such as what a meter may be out by, at so many digits. */
export function spanInHouse(span: number, unit: string, digits: number): string {
  const shown = spanIn(span, unit)
  return fixed(shown, digitsIn(digits, shown, unit))
}

/** A value with the house's unit. */
export function measured(value: number | null | undefined, unit: string, digits: number): string {
  const many = manyOhms(value, unit)
  if (many !== '') return many
  return value === null || value === undefined ? '–' : `${inHouse(value, unit, digits)}${AFTER_NUMBER}${unitSaid(unit)}`
}

/** A number with its unit. */
export function quantity(value: number | null | undefined, unit: string): string {
  const text = number(value, unit)
  return value === null || value === undefined || unit === '-' || unit === YES_NO
    ? text
    : `${text}${AFTER_NUMBER}${unitSaid(unit)}`
}

/** An amount of money in the house's currency. */
export function money(value: number | null | undefined, digits = 0): string {
  return `${fixed(value, digits)}${AFTER_NUMBER}${UNITS.currency}`
}

/** A size label with the other system's area beside AWG. */
export function sizeAside(system: string, area_mm2: number): string {
  return system === 'awg' ? `${fixed(area_mm2, area_mm2 < 10 ? 2 : 1)} mm²` : ''
}

interface Size {
  size: string
  system: string
  area_mm2: number
}
/** Sizes to choose from: those of the house's system first, each by area. */
export function sizeChoices(sizes: readonly Size[], first: string = UNITS.size): { value: string; label: string }[] {
  const behind = (item: Size) => Number((item.system === 'awg') !== (first === 'awg'))
  return [...sizes]
    .sort((one, other) => behind(one) - behind(other) || one.area_mm2 - other.area_mm2)
    .map((item) => ({
      value: item.size,
      label: `${asThere(item.size)} ${sizeAside(item.system, item.area_mm2)}`.trim(),
    }))
}
