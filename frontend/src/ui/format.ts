/** How numbers are written; digits follow the unit, as in the core. */
import { fixed } from './locale'

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

/** A number at its unit's digits, or a dash where there is none. */
export function number(value: number | null | undefined, unit: string): string {
  return value === null || value === undefined ? '–' : fixed(value, DIGITS[unit] ?? 2)
}

/** A number with its unit. */
export function quantity(value: number | null | undefined, unit: string): string {
  const text = number(value, unit)
  return value === null || value === undefined || unit === '-' ? text : `${text} ${unit}`
}

/** A size label with the other system's area beside AWG. */
export function sizeAside(system: string, area_mm2: number): string {
  return system === 'awg' ? `${fixed(area_mm2, area_mm2 < 10 ? 2 : 1)} mm²` : ''
}
