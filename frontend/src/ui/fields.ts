/** What the screens call a place of the design: title, unit, step, choices and help, from the models. */
import { FIELDS, type Field } from '../api/fields.gen'
import { find, getAt } from '../job/path'
import { inUnits, TURNED } from './units'

// What helps with a field says its figures in the house's units too; the unit itself stays the models', for what is typed.
if (TURNED)
  for (const field of Object.values(FIELDS).flatMap((one) => [one, one.ready ?? one])) {
    if (field.help) field.help = inUnits(field.help)
    for (const choice of field.choices ?? []) choice.label = inUnits(choice.label)
  }

interface Kind {
  kind?: string
}

/** The pattern under which a path's field stands: things of a list by their kind, or as `*`; either run as `run`. */
export function patternOf(document: unknown, path: string): string {
  let here: unknown = document
  return path
    .split('.')
    .map((step, at) => {
      const within = here
      here = find(here, step)
      if (!Array.isArray(within)) return at === 0 && (step === 'supply' || step === 'delivery') ? 'run' : step
      return path.includes('.pieces.') ? ((here as Kind | undefined)?.kind ?? '*') : '*'
    })
    .join('.')
}

/** The field at a path of a document; its last step stands in where the models say nothing of it. */
export function fieldAt(document: unknown, path: string): Field {
  const field = FIELDS[patternOf(document, path)]
  if (!field) return { label: path.split('.').at(-1)?.replaceAll('_', ' ') ?? path }
  return (getAt(document, 'vehicle.drive') === 'converter' && field.ready) || field
}

/** The field under a pattern that is no place of the design. */
export function fieldOf(pattern: string): Field {
  return FIELDS[pattern] ?? { label: pattern }
}
