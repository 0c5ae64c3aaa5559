/** The lines of a device's menu while they are edited: new ones, moves, what a line needs by its kind. */
import type { components } from '../api/schema.gen'
import { entered } from '../ui/locale'
import { asTyped, plainNumber, unsure } from '../ui/number'

export type MenuLine = components['schemas']['Setting']
export type MenuRecord = components['schemas']['SettingsRecord']

/** A line to begin with, named unlike the others. */
export function freshLine(lines: readonly MenuLine[]): MenuLine {
  const taken = new Set(lines.map((line) => line.id))
  let at = lines.length + 1
  while (taken.has(`line${at}`)) at += 1
  return { id: `line${at}`, label: `Line ${at}`, means: 'other', kind: 'switch', factory: 'off' } as MenuLine
}

/** The lines with one of them moved. */
export function moved(lines: readonly MenuLine[], from: number, by: number): MenuLine[] {
  const to = from + by
  if (to < 0 || to >= lines.length) return [...lines]
  const next = [...lines]
  const [line] = next.splice(from, 1)
  if (line) next.splice(to, 0, line)
  return next
}

/** Choices as text, one a line: `label = stands for > line: value, line: value`. */
export function choicesText(line: MenuLine): string {
  return (line.options ?? [])
    .map((option) => {
      const stands = option.stands_for ? ` = ${option.stands_for}` : ''
      const rewrites = (option.rewrites ?? []).map((item) => `${item.line}: ${item.value}`).join(', ')
      return `${option.label}${stands}${rewrites ? ` > ${rewrites}` : ''}`
    })
    .join('\n')
}

/** A number where it is one for certain; else the text as it is, which the server asks about. */
const worth = (text: string): number | string => plainNumber(text) ?? unsure(text)
/** A value as it stands in an entry. */
export const valueText = (value: unknown): string =>
  typeof value === 'number' ? entered(value) : typeof value === 'string' ? asTyped(value) : ''

/** The text read back; what does not fit is left for the server to say. */
export function choicesFrom(text: string): MenuLine['options'] {
  return text
    .split('\n')
    .map((row) => row.trim())
    .filter(Boolean)
    .map((row) => {
      const [head = '', tail = ''] = row.split('>')
      const [label = '', stands = ''] = head.split('=')
      const rewrites = tail
        .split(/,(?=\s|[a-z])/) // a comma between figures is a decimal mark
        .map((part) => part.split(':').map((piece) => piece.trim()))
        .filter((pair) => pair[0])
        .map(([line = '', value = '']) => ({ line, value: worth(value) }))
      return { label: label.trim(), stands_for: stands.trim(), rewrites }
    })
}

/** A typed value: a number, a word, or nothing. */
export const valueFrom = (text: string): number | string | null => (text.trim() === '' ? null : worth(text.trim()))

/** What a line can be set to, in a few words. */
export function rangeText(line: MenuLine): string {
  if (line.kind === 'switch') return 'on or off'
  if (line.kind === 'action') return 'an action'
  if (line.kind !== 'number') return (line.options ?? []).map((option) => option.label).join(', ')
  if (line.steps?.length) return `${line.steps.map(valueText).join(', ')} ${line.unit ?? ''}`.trim()
  const [from, to, step] = [line.from_value, line.to_value, line.step].map((value) => valueText(value) || '?')
  return `${from} to ${to} by ${step} ${line.unit ?? ''}`.trim()
}
