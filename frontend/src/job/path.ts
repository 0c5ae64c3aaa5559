/** Read and replace one place of a document by its dotted path, leaving the original alone. */

type Plain = Record<string, unknown> | unknown[]

function isPlain(value: unknown): value is Plain {
  return typeof value === 'object' && value !== null
}

function step(node: Plain, key: string): unknown {
  return Array.isArray(node) ? node[Number(key)] : node[key]
}

/** The value at `path`, or undefined where the path leads nowhere. */
export function getAt(document: unknown, path: string): unknown {
  let here: unknown = document
  for (const key of path.split('.')) {
    if (!isPlain(here)) return undefined
    here = step(here, key)
  }
  return here
}

/** A copy of `document` with `value` at `path`; untouched branches are shared. */
export function setAt<T>(document: T, path: string, value: unknown): T {
  return replaced(document, path.split('.'), value) as T
}

function replaced(node: unknown, keys: string[], value: unknown): unknown {
  const [key, ...rest] = keys
  if (key === undefined) return value
  if (Array.isArray(node)) {
    const copy: unknown[] = [...node]
    copy[Number(key)] = replaced(copy[Number(key)], rest, value)
    return copy
  }
  const record = isPlain(node) ? (node as Record<string, unknown>) : {}
  return { ...record, [key]: replaced(record[key], rest, value) }
}
