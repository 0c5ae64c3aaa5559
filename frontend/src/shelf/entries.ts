/** A shelf item's document as what is typed, and back. */
import { entered } from '../ui/locale'
import type { components } from '../api/schema.gen'
import { readIn, standing } from '../ui/units'
import { getAt, setAt } from '../job/path'

export type FormField = components['schemas']['FormField']
type Entries = Record<string, unknown>

/** What a field shows before anything is typed. */
function blankOf(field: FormField): unknown {
  switch (field.kind) {
    case 'tick':
      return false
    case 'choices':
      return []
    case 'choice':
      return field.choices?.[0]?.value ?? null
    default:
      return ''
  }
}

/** Every field of a form as typed text, ticks and choices. */
export function entriesOf(document: unknown, fields: readonly FormField[]): Entries {
  return Object.fromEntries(
    fields.map((field) => {
      const value = getAt(document, field.path)
      if (field.kind === 'texts' || field.kind === 'numbers')
        return [field.path, Array.isArray(value) ? value.map(lineOf).join('\n') : '']
      if (field.kind === 'number' || field.kind === 'whole')
        return [field.path, typeof value === 'number' ? entered(standing(value, field.unit)) : String(value ?? '')]
      return [field.path, value ?? blankOf(field)]
    }),
  )
}

const lineOf = (value: unknown): string => (typeof value === 'number' ? entered(value) : String(value))

/** The value of one entry. */
function valueOf(field: FormField, entry: unknown): unknown {
  const lines = () =>
    String(entry ?? '')
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean)
  if (field.kind === 'texts') return lines()
  if (field.kind === 'numbers') return lines().map((line) => readIn(line, field.unit))
  return field.kind === 'number' || field.kind === 'whole' ? readIn(String(entry ?? ''), field.unit) : entry
}

/** The document that was begun with, and what was typed put into it. */
export function documentOf(begun: Entries, fields: readonly FormField[], entries: Entries): Entries {
  let built: Entries = { ...begun }
  for (const field of fields) {
    const value = valueOf(field, entries[field.path])
    if (value === null && getAt(built, field.path) === undefined && !field.required) continue
    built = setAt(built, field.path, value)
  }
  return built
}
