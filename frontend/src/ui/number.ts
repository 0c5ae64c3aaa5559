/** Numbers as people type them: understood for certain, or not at all. */
import { DECIMAL, type Mark } from './house'

/** What one of a unit is of another: the field's unit, then what may be typed instead. */
const IN: Record<string, Record<string, number>> = {
  m: { m: 1, cm: 0.01, mm: 0.001, ft: 0.3048, feet: 0.3048, foot: 0.3048, "'": 0.3048, in: 0.0254, '"': 0.0254 },
  mm: { mm: 1, cm: 10, m: 1000, in: 25.4, '"': 25.4 },
  V: { v: 1, mv: 0.001, volt: 1, volts: 1 },
  mV: { mv: 1, v: 1000 },
  'mV/K': { 'mv/k': 1, 'mv/°c': 1, 'mv/c': 1 },
  '%/K': { '%/k': 1, '%/°c': 1, '%/c': 1 },
  A: { a: 1, ma: 0.001, amp: 1, amps: 1 },
  mA: { ma: 1, a: 1000 },
  Ah: { ah: 1 },
  W: { w: 1, kw: 1000, watt: 1, watts: 1 },
  Wh: { wh: 1, kwh: 1000 },
  mΩ: { mω: 1, mohm: 1, ω: 1000, ohm: 1000, kω: 1e6, kohm: 1e6, megaω: 1e9, megaohm: 1e9 },
  Ω: { ω: 1, ohm: 1, ohms: 1, mω: 0.001, mohm: 0.001, kω: 1000, kohm: 1000, megaω: 1e6, megaohm: 1e6 },
  'mm²': { 'mm²': 1, mm2: 1, sqmm: 1 },
  'cm²': { 'cm²': 1, cm2: 1, 'mm²': 0.01, mm2: 0.01, 'in²': 6.4516, in2: 6.4516 },
  'm³/h': { 'm³/h': 1, 'm3/h': 1, 'l/s': 3.6, 'l/min': 0.06, cfm: 1.69901 },
  years: { years: 1, year: 1, months: 1 / 12, month: 1 / 12 },
  kg: { kg: 1, g: 0.001, lb: 0.45359237, lbs: 0.45359237 },
  'N·m': { 'n·m': 1, nm: 1, 'lb·in': 0.112985, lbin: 0.112985, 'in·lb': 0.112985, 'lb·ft': 1.355818, lbft: 1.355818 },
  '°C': { '°c': 1, c: 1 },
  '%': { '%': 1 },
  share: { '%': 0.01 },
  '×': { '×': 1, x: 1 },
  '€': { '€': 1 },
}
const SECONDS: Record<string, number> = {
  s: 1,
  sec: 1,
  min: 60,
  h: 3600,
  d: 86400,
  days: 86400,
  day: 86400,
  hours: 3600,
}
const TIME: Record<string, number> = { s: 1, min: 60, h: 3600, days: 86400, d: 86400 }
const GROUPED = /^\d{1,3}(?:([ '])\d{3})(?:\1\d{3})*(?:[.,]\d+)?$/

/** One to three digits, a mark, three more: with the other mark than decimals have here, a thousand or one and a bit. */
const THOUSAND: Record<Mark, RegExp> = { '.': /^[1-9]\d{0,2},\d{3}$/, ',': /^[1-9]\d{0,2}\.\d{3}$/ }
/** After what a model would take for a decimal point, so that it is asked about like all that is not certain. */
const ASKED = ' ?'

const thousand = (text: string, mark: Mark): boolean => THOUSAND[mark].test(text.replace(/^[+-]/, ''))

/** A text that is no number for certain, as it is sent. */
export function unsure(text: string, mark: Mark = DECIMAL): string {
  return thousand(text, mark) && mark === ',' ? text + ASKED : text
}

/** A bare number where a share is typed in per cent: "0.4" may be a part of one, and is asked about. */
export function perCent(value: number, text: string): number | string {
  return value !== 0 && Math.abs(value) < 1 ? text.trim() + ASKED : rounded(value / 100)
}

/** What was typed, of a text that was sent. */
export function asTyped(text: string): string {
  return text.endsWith(ASKED) ? text.slice(0, -ASKED.length) : text
}

/** Digits with points, commas and spaces as a number; `null` where they may mean more than one. */
export function plainNumber(typed: string, mark: Mark = DECIMAL): number | null {
  const text = typed
    .replace(/[\u00a0\u2009\u202f]/g, ' ')
    .replace(/[−–]/g, '-')
    .trim()
  const sign = /^[+-]/.exec(text)?.[0] ?? ''
  const digits = text.slice(sign.length).trim()
  const value = unsigned(digits, mark)
  return value === null ? null : sign === '-' ? -value : value
}

function unsigned(digits: string, mark: Mark): number | null {
  if (/^\d+(?:\.\d+)?e[+-]?\d{1,3}$/i.test(digits)) return finite(Number(digits))
  if (/[ ']/.test(digits)) {
    if (!GROUPED.test(digits)) return null
    return unsigned(digits.replace(/[ ']/g, '').replace(',', '.'), '.')
  }
  if (!/^(?:\d[\d.,]*|[.,]\d+)$/.test(digits)) return null
  const [commas, dots] = [digits.split(',').length - 1, digits.split('.').length - 1]
  if (THOUSAND[mark].test(digits)) return null
  if (commas === 0 && dots <= 1) return finite(Number(digits))
  if (dots === 0 && commas === 1) return finite(Number(digits.replace(',', '.')))
  // Of both, the last is the decimal mark and the other groups; several of one kind group.
  const decimal = commas > 0 && dots > 0 ? (digits.lastIndexOf(',') > digits.lastIndexOf('.') ? ',' : '.') : ''
  const group = decimal === ',' ? '.' : decimal === '.' ? ',' : commas > 0 ? ',' : '.'
  const [whole = '', part] = decimal === '' ? [digits] : splitOnce(digits, decimal)
  const groups = whole.split(group)
  if (groups.length < 2 || !/^\d{1,3}$/.test(groups[0] ?? '') || !groups.slice(1).every((item) => /^\d{3}$/.test(item)))
    return null
  if (part !== undefined && !/^\d+$/.test(part)) return null
  return finite(Number(`${groups.join('')}.${part ?? '0'}`))
}

function splitOnce(text: string, at: string): [string, string] | [string] {
  const parts = text.split(at)
  return parts.length === 2 ? [parts[0] ?? '', parts[1] ?? ''] : [text]
}

const finite = (value: number) => (Number.isFinite(value) ? value : null)
/** Conversions come out to what a rule or meter shows, not to the last bit. */
const rounded = (value: number) => Number(value.toPrecision(9))

/** Hours, minutes and seconds that add up, as "7 h 30 min" [s]. */
function secondsOf(text: string, mark: Mark): number | null {
  const parts = [...text.matchAll(/([\d.,]+)\s*([a-z]+)\s*/gi)]
  if (
    parts.length === 0 ||
    parts
      .map((part) => part[0])
      .join('')
      .trim() !== text.trim()
  )
    return null
  let sum = 0
  let last = Infinity
  for (const [, amount = '', unit = ''] of parts) {
    const [value, each] = [plainNumber(amount, mark), SECONDS[unit.toLowerCase()]]
    if (value === null || each === undefined || each >= last) return null // larger units first, each once
    sum += value * each
    last = each
  }
  return sum
}

/** A typed entry as the field's unit has it: a number, nothing, or the text itself where it is not certain. */
export function readEntry(text: string, unit = '', mark: Mark = DECIMAL): number | string | null {
  const typed = text.trim()
  if (typed === '') return null
  const plain = plainNumber(typed, mark)
  if (plain !== null) return plain
  if (thousand(typed, mark)) return mark === ',' ? unsure(typed, mark) : text
  const each = TIME[unit]
  if (each !== undefined) {
    const seconds = secondsOf(typed, mark)
    return seconds === null ? text : rounded(seconds / each)
  }
  const feet = /^(\d+)\s*(?:ft|')\s*(\d+(?:\.\d+)?)\s*(?:in|")$/i.exec(typed)
  if (feet && unit === 'm') return rounded(Number(feet[1]) * 0.3048 + Number(feet[2]) * 0.0254)
  const parts = /^([+\-−–]?\s*[\d.,][\d.,' \u00a0\u2009\u202f]*?)\s*([^\d\s.,].*)$/.exec(typed)
  const value = parts ? plainNumber(parts[1] ?? '', mark) : null
  const digits = parts?.[1]?.trim() ?? ''
  if (thousand(digits, mark)) return unsure(digits, mark)
  if (parts === null || value === null) return text
  const named = (parts[2] ?? '')
    .replace(/[\s.]+/g, '')
    .replace(/^M(?=[ΩΩ]|ohm)/, 'mega') // a megohm is no milliohm
    .toLowerCase()
  if (unit === '°C' && (named === '°f' || named === 'f')) return rounded(((value - 32) * 5) / 9)
  if (unit === 'mm²' && named === 'awg' && Number.isInteger(value) && value >= 0)
    return rounded((Math.PI / 4) * (0.127 * 92 ** ((36 - value) / 39)) ** 2)
  const itself = [named, `${named}s`].includes(unit.toLowerCase()) // “1 cable” where cables are counted
  const factor = IN[unit]?.[named] ?? (itself ? 1 : undefined)
  return factor === undefined ? text : rounded(value * factor)
}
