/** How this house, or else its reader, writes: units and decimal mark. They come with the page. */
import type { House } from '../api/types'

export type Units = House['units']
export const SI: Units = {
  length: 'm',
  size: 'mm2',
  temperature: 'C',
  torque: 'Nm',
  decimal: 'reader',
  currency: '€',
}
/** Those of this page: they come with it, so that nothing is ever shown in others first. */
export const UNITS: Units = { ...SI, ...fromPage() }
function fromPage(): Partial<Units> {
  if (typeof document === 'undefined') return {}
  const said = document.getElementById('app')?.dataset['units'] ?? ''
  try {
    return JSON.parse(said) as Partial<Units>
  } catch {
    return {}
  }
}

export type Mark = '.' | ','
/** The reader's language; some devices name it as no browser understands, and without one nothing could be written. */
function languageOfReader(): string {
  try {
    return Intl.getCanonicalLocales(navigator.language)[0] ?? 'en-GB'
  } catch {
    return 'en-GB'
  }
}
export const LOCALE = languageOfReader()
const found = new Intl.NumberFormat(LOCALE, { useGrouping: false }).formatToParts(1.5)
/** The reader's decimal mark: a comma, or else a point. */
const READERS = found.find((part) => part.type === 'decimal')?.value === ',' ? ',' : '.'
/** The decimal mark of this page: the house's, or else the reader's. */
export const DECIMAL: Mark = UNITS.decimal === 'reader' ? READERS : UNITS.decimal === 'comma' ? ',' : '.'
