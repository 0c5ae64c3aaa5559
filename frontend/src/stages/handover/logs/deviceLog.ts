/** A device's log on its way to the server: a sample to look at, and the file itself. */
import { posted } from '../../../api/client'
import { localised } from '../../../ui/locale'
import type { LogMapping, LookedAt } from '../../../api/types'

const SMALL = 200_000
const HEAD = 60_000
const PIECE = 8_000
const PLACES = 7

/** The file's beginning and whole lines from further on; all of it where it is small. */
export async function sampleOf(file: Blob): Promise<Blob> {
  const begin = new Uint8Array(await file.slice(0, 2).arrayBuffer())
  const wide = begin[0] === 0xff || begin[0] === 0xfe // UTF-16: halves of characters are not cut
  if (wide || file.size <= SMALL) return file.slice(0, SMALL)
  const parts = [whole(await bytes(file, 0, HEAD), true)]
  for (let part = 1; part <= PLACES; part += 1) {
    const at = Math.floor((file.size * part) / (PLACES + 1))
    parts.push(whole(await bytes(file, at, PIECE), false))
  }
  return new Blob(parts)
}
const bytes = async (file: Blob, at: number, long: number) =>
  new Uint8Array(await file.slice(at, at + long).arrayBuffer())

/** Its whole lines: up to the last end of one, and from the first on where it begins within one. */
function whole(piece: Uint8Array<ArrayBuffer>, fromStart: boolean): Uint8Array<ArrayBuffer> {
  return piece.slice(fromStart ? 0 : piece.indexOf(10) + 1, piece.lastIndexOf(10) + 1)
}

/** Send a file as it is; its answer, or the refusal thrown. */
export async function sent<T>(path: string, file: Blob): Promise<T> {
  const answer = await posted(path, file, 'text/csv')
  return localised((await answer.json()) as T)
}

/** How a file is read: as its kind was mapped, or as guessed. */
export function mappingOf(looked: LookedAt): LogMapping {
  if (looked.mapping) return looked.mapping
  const { encoding, delimiter, decimal, header_line, columns, order } = looked.sniffed
  const zone = looked.sniffed.zone_written ? 'UTC' : Intl.DateTimeFormat().resolvedOptions().timeZone
  return withStates(
    { encoding, delimiter, decimal, header_line, columns, order, zone, charging: [], resting: [] },
    looked,
  )
}

/** A column with another role: in the first unit of that measure, or as it was where it can be. */
export function withRole(mapping: LogMapping, at: number, role: string, looked: LookedAt): LogMapping {
  const known = looked.units[role] ?? []
  const columns = mapping.columns.map((column, place) => {
    if (place !== at) return column.role === role && role !== '' ? { ...column, role: '' as const, unit: '' } : column
    const unit = known.includes(column.unit ?? '') ? (column.unit ?? '') : (known[0] ?? '')
    return { ...column, role: role as typeof column.role, unit }
  })
  const next = { ...mapping, columns }
  const moved = placeOf(next) !== placeOf(mapping)
  return moved ? withStates({ ...next, charging: [], resting: [] }, looked) : next
}
const placeOf = (mapping: LogMapping) => mapping.columns.findIndex((column) => column.role === 'charging')

/** The words of the column of states: those of the file and those known of its kind. */
export function statesOf(mapping: LogMapping, looked: LookedAt): string[] {
  const at = placeOf(mapping)
  if (at < 0) return []
  const known = [...mapping.charging, ...mapping.resting]
  return [...new Set([...known, ...(looked.sniffed.words[at] ?? [])])].sort()
}
/** Every state in one list or the other: as it is, or else as it is likely to be meant. */
function withStates(mapping: LogMapping, looked: LookedAt): LogMapping {
  const means = (word: string) =>
    mapping.charging.includes(word) || (!mapping.resting.includes(word) && looked.sniffed.charging.includes(word))
  const words = statesOf(mapping, looked)
  return { ...mapping, charging: words.filter(means), resting: words.filter((word) => !means(word)) }
}
/** A state marked as charging, or not. */
export function withState(mapping: LogMapping, looked: LookedAt, word: string, charges: boolean): LogMapping {
  const without = (words: readonly string[]) => words.filter((other) => other !== word)
  const [charging, resting] = [without(mapping.charging), without(mapping.resting)]
  ;(charges ? charging : resting).push(word)
  return withStates({ ...mapping, charging, resting }, looked)
}
