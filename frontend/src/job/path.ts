/** Read and replace one place of a document by its path, leaving the original alone.
 *
 * In a list a step is the identity of a thing, or its position where things have none.
 */

type Plain = Record<string, unknown> | unknown[]

function isPlain(value: unknown): value is Plain {
  return typeof value === 'object' && value !== null
}

/** Where in a list a step leads; -1 where nothing has that identity. */
export function position(items: readonly unknown[], step: string): number {
  if (/^\d+$/.test(step)) return Number(step)
  return items.findIndex((item) => isPlain(item) && !Array.isArray(item) && item.id === step)
}

/** One step into a document; undefined where it leads nowhere. */
export function find(node: unknown, step: string): unknown {
  if (!isPlain(node)) return undefined
  return Array.isArray(node) ? node[position(node, step)] : node[step]
}

/** The value at `path`, or undefined where the path leads nowhere. */
export function getAt(document: unknown, path: string): unknown {
  return path.split('.').reduce(find, document)
}

/** A copy of `document` with `value` at `path`; untouched branches are shared. */
export function setAt<T>(document: T, path: string, value: unknown): T {
  return replaced(document, path.split('.'), value) as T
}

function replaced(node: unknown, keys: string[], value: unknown): unknown {
  const [key, ...rest] = keys
  if (key === undefined) return value
  if (Array.isArray(node)) {
    const at = position(node, key)
    if (at < 0) return node
    const copy: unknown[] = [...node]
    copy[at] = replaced(copy[at], rest, value)
    return copy
  }
  const record = isPlain(node) ? (node as Record<string, unknown>) : {}
  return { ...record, [key]: replaced(record[key], rest, value) }
}
