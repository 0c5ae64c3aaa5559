/**
 * The house's units: sentences, figures and entries in them. Everything is kept in SI.
 * The papers do the same in `house_units.py`; `tests/data/units.json` holds both to the same words.
 */
import { SI, UNITS, type Units } from './house'
import { perCent, readEntry } from './number'

export { SI, UNITS, type Units }

type Digits = (digits: number, value: number) => number
interface Turn {
  unit: string
  into: string
  factor: number
  more: Digits
  offset?: number
}
const NUMBER = '[-−]?\\d+(?:\\.\\d+)?'
const CHAIN = `(?<![\\w.,/])(${NUMBER}(?:(?:\\s?(?:to|and|or|–|…|±)\\s?)${NUMBER})*)(\\s?)` // "20 to 105 °C" is two numbers
const length: Digits = (digits, value) => (digits === 0 && Math.abs(value) < 100 ? 1 : digits)
const small: Digits = (digits, value) => digits + (Math.abs(value) < 1 ? 2 : 1)
const same: Digits = (digits) => digits
const torque: Digits = (digits) => Math.max(0, digits - 1)
const rate: Digits = (digits) => Math.max(1, digits)
const W = '[\\p{L}\\d_]'
const FEET: Turn[] = [
  { unit: `mΩ/m(?!${W})`, into: 'mΩ/ft', factor: 0.3048, more: rate },
  { unit: `€/m(?!${W})`, into: '€/ft', factor: 0.3048, more: same },
  { unit: `m(?!${W}|[²³Ω·/])`, into: 'ft', factor: 1 / 0.3048, more: length },
  { unit: `mm(?!${W}|²)`, into: 'in', factor: 1 / 25.4, more: small },
  { unit: 'cm²', into: 'in²', factor: 1 / 6.4516, more: length },
]
const FAHRENHEIT: Turn[] = [
  { unit: `mV/(?:°C|K)(?!${W})`, into: 'mV/°F', factor: 5 / 9, more: rate },
  { unit: `%/K(?!${W})`, into: '%/°F', factor: 5 / 9, more: rate },
  { unit: '°C', into: '°F', factor: 1.8, more: same, offset: 32 },
  { unit: `K(?!${W}|/)`, into: '°F', factor: 1.8, more: same },
]
const POUNDS: Turn[] = [{ unit: `N·m(?!${W})`, into: 'lb·in', factor: 8.850746, more: torque }]
/** Part of one in the models; on screens and in entries per cent, in every house. */
const SHARE: Turn = {
  unit: 'share',
  into: '%',
  factor: 100,
  more: (_, value) => Number(Math.round(value * 10) % 10 !== 0),
}
const BY: [keyof Units, string, Turn[]][] = [
  ['length', 'ft', FEET],
  ['temperature', 'F', FAHRENHEIT],
  ['torque', 'lbin', POUNDS],
]
const written = (turn: Turn) => new RegExp(`${CHAIN}(?:${turn.unit})`, 'gu')
const turnsOf = (units: Units) =>
  BY.filter(([key, value]) => units[key] === value).flatMap(([, , turns]) =>
    turns.map((turn) => [written(turn), turn] as const),
  )
const OWN = turnsOf(UNITS)
/** Whether this house says anything other than SI. */
export const TURNED = OWN.length > 0 || UNITS.currency !== '€'

function numberTurned(text: string, turn: Turn): string {
  const value = Number(text.replace('−', '-')) * turn.factor + (turn.offset ?? 0)
  const digits = turn.more((text.split('.')[1] ?? '').length, value)
  const said = value.toFixed(digits)
  return text.includes('−') || (value < 0 && !text.includes('-')) ? said.replace('-', '−') : said
}

/** A sentence in SI, its decimals points, with its figures in the house's units. */
export function inUnits(text: string, units: Units = UNITS): string {
  let said = text
  for (const [pattern, turn] of units === UNITS ? OWN : turnsOf(units))
    said = said.replace(
      pattern,
      (_, numbers: string, gap: string) =>
        numbers.replace(new RegExp(NUMBER, 'g'), (number) => numberTurned(number, turn)) + gap + turn.into,
    )
  return units.currency === '€' ? said : said.replaceAll('€', units.currency)
}

/** What a unit of the models is called in this house. */
export function unitSaid(unit: string, units: Units = UNITS): string {
  const turn = turnOf(unit, units)
  return (turn?.into ?? unit).replace('€', units.currency)
}
const KNOWN = new Map<string, Turn | undefined>()
function turnOf(unit: string, units: Units): Turn | undefined {
  if (units !== UNITS) return turnNamed(unit, units)
  if (!KNOWN.has(unit)) KNOWN.set(unit, turnNamed(unit, units))
  return KNOWN.get(unit)
}
function turnNamed(unit: string, units: Units): Turn | undefined {
  if (unit === SHARE.unit) return SHARE
  return turnsOf(units).find(([pattern]) => new RegExp(`^${pattern.source}$`, 'u').test(`1 ${unit}`))?.[1]
}

/** A value of the models in the house's unit. */
export function valueIn(value: number, unit: string, units: Units = UNITS): number {
  const turn = turnOf(unit, units)
  return turn === undefined ? value : value * turn.factor + (turn.offset ?? 0)
}
/** A difference of a unit in the house's: degrees without their zero. */
export function spanIn(span: number, unit: string, units: Units = UNITS): number {
  return valueIn(span, unit, units) - valueIn(0, unit, units)
}
/** A value in the house's unit as the models have it. */
export function valueOut(value: number, unit: string, units: Units = UNITS): number {
  const turn = turnOf(unit, units)
  return turn === undefined ? value : Number(((value - (turn.offset ?? 0)) / turn.factor).toPrecision(9))
}
/** Digits more or less than in SI. */
export function digitsIn(digits: number, value: number, unit: string, units: Units = UNITS): number {
  return turnOf(unit, units)?.more(digits, value) ?? digits
}

/** A stored number as it stands in an entry: the shortest that means it, or two decimals. */
export function standing(value: number, unit: string, units: Units = UNITS): number {
  if (turnOf(unit, units) === undefined) return value
  const shown = valueIn(value, unit, units)
  for (let digits = 0; digits <= 4; digits += 1) {
    const short = Number(shown.toFixed(digits)) + 0 // never a minus nought
    if (Math.abs(valueOut(short, unit, units) - value) <= 1e-8 * Math.max(1, Math.abs(value))) return short
  }
  return Number(shown.toFixed(2))
}

/** What was typed, as the models have it: a bare number is in the house's unit, a unit that is typed is itself. */
export function readIn(text: string, unit = '', units: Units = UNITS): number | string | null {
  if (turnOf(unit, units) === undefined) return readEntry(text, unit.replace(units.currency, '€'))
  const plain = readEntry(text, '')
  if (typeof plain === 'number') return unit === SHARE.unit ? perCent(plain, text) : valueOut(plain, unit, units)
  return readEntry(text, unit)
}
