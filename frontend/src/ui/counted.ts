/** A number with its noun: “1 stop”, “2 stops”. */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${String(count)} ${count === 1 ? one : many}`
}

/** The word behind a number in a field: “1 cable”, “2 cables”; signs such as V, or s for seconds, are no words. */
export function behind(shown: string, unit: string): string {
  return shown.trim() === '1' && /^[a-z]{3,}s$/.test(unit) ? unit.slice(0, -1) : unit
}
