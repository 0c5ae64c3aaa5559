/** Numbers and dates as the reader's locale writes them, unless the house has its own way. Files keep ISO and the point. */
import { DECIMAL, LOCALE, type Mark } from './house'
import { inUnits, TURNED } from './units'

/** A number at so many digits; nothing where there is none. */
export function fixed(value: number | null | undefined, digits: number, mark: Mark = DECIMAL): string {
  return (value ?? '') === '' ? '' : Number(value).toFixed(digits).replace('.', mark)
}

/** A whole number, its thousands apart by a narrow space, which is neither mark. */
export function whole(value: number): string {
  return String(value).replace(/\B(?=(\d{3})+$)/g, '\u202f')
}

/** A number as it stands in an entry. */
export function entered(value: number, mark: Mark = DECIMAL): string {
  return String(value).replace('.', mark)
}

/** What stands so on a device, or is keyed into it: in the reader's decimals, in no other units. */
export function asThere(text: string, mark: Mark = DECIMAL): string {
  return mark === '.' ? text : text.replace(/(?<![\w.])(\d+)\.(\d+)(?![\d]*\.\d)/g, `$1${mark}$2`)
}

/** A sentence with its numbers; clauses and tables of standards (B.52.3) keep their points. */
export function said(text: string, mark: Mark = DECIMAL): string {
  return asThere(TURNED ? inUnits(text) : text, mark)
}

const WORDS = new Set([
  'text',
  'what',
  'working',
  'detail',
  'message',
  'reason',
  'label',
  'why',
  'summary',
  'spread',
  'standing',
  'effect',
  'refused',
  'consequence',
  'proves',
  'trouble',
  'if_broken',
  'cannot',
  'supply', // cable and device of a run, of a unit that is not chosen yet
  'delivery',
])
/** Lists of sentences. */
const SENTENCES = new Set(
  'advice answers come does doubts facts go hints items lost make_safe misses missing reset_loses risks see since speaks_against speaks_for troubles unfinished unknown unpriced unsaid why will_not working wrong'.split(
    ' ',
  ),
)
const isSaid = (key: string) => WORDS.has(key) || key.endsWith('_text')
/** What goes back to the server as it came, or is somebody's own words. */
const KEPT = new Set(['design', 'document', 'changes', 'value', 'programme', 'charger'])

/** An answer with its sentences in the reader's numbers. */
export function localised<T>(answer: T, mark: Mark = DECIMAL): T {
  return mark === '.' && !TURNED ? answer : (turned(answer, mark) as T)
}
function turned(value: unknown, mark: Mark): unknown {
  if (Array.isArray(value)) return value.map((item) => turned(item, mark))
  if (value === null || typeof value !== 'object') return value
  const judged = 'level' in value // a finding; a job's title is its owner's
  const compared = 'best' in value // a row of variants side by side
  const menu = 'was' in value || 'line' in value // a line of a device's menu: its label is the device's own
  return Object.fromEntries(
    Object.entries(value).map(([key, item]) => {
      if (KEPT.has(key)) return [key, item as unknown]
      if (menu && key === 'label') return [key, item as unknown]
      if (typeof item === 'string') return [key, isSaid(key) || (judged && key === 'title') ? said(item, mark) : item]
      if (SENTENCES.has(key) && Array.isArray(item))
        return [key, item.map((each) => (typeof each === 'string' ? said(each, mark) : turned(each, mark)))]
      if (compared && key === 'values') return [key, (item as string[]).map((each) => said(each, mark))]
      return [key, turned(item, mark)]
    }),
  )
}

/** A writer of moments, made once it is wanted: making one takes fifty times as long as writing with it. No moment, no word. */
function written(as?: Intl.DateTimeFormatOptions): (moment: Date) => string {
  let writer: Intl.DateTimeFormat | undefined
  return (moment) =>
    Number.isNaN(moment.getTime()) ? '' : (writer ??= new Intl.DateTimeFormat(LOCALE, as)).format(moment)
}
/** Day and month of a moment. */
export const day = written({ day: 'numeric', month: 'short' })
/** The whole date of a moment. */
export const date = written()
/** A day as it is written in answers, `2031-05-01`, as the reader writes it. */
export const dateOf = (text: string): string => date(new Date(`${text}T12:00`))
/** Clock time of a moment. */
export const clock = written({ hour: '2-digit', minute: '2-digit' })
/** Date and clock time of a moment as it is written in answers. */
export function dateClock(text: string): string {
  const moment = new Date(text)
  return `${date(moment)} ${clock(moment)}`
}

/** When something was: of today the time alone, of another day its date. */
export function lately(moment: Date, now: Date = new Date()): string {
  return moment.toDateString() === now.toDateString() ? clock(moment) : date(moment)
}
