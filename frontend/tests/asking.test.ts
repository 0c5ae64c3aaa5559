import { expect, test } from 'vitest'
import { asking } from '../src/ui/asking'

test('an answer counts where it was asked for, and the last one asked', () => {
  let where = 1
  const asked = asking(() => where)
  const [first, second] = [asked(), asked()]
  expect([first(), second()]).toEqual([false, true])
  where = 2
  expect(second()).toBe(false)
  const third = asked()
  expect(third()).toBe(true)
  where = 1
  expect([third(), second()]).toEqual([false, false])
})

/** The body of each function that waits, from its first wait on. */
function waits(source: string): string[] {
  return [...source.matchAll(/async (?:function \w+)?\([^]*?\)[^{;=]*(?:=> )?\{/g)].flatMap((found) => {
    let [at, depth] = [found.index + found[0].length, 1]
    const begin = at
    for (; at < source.length && depth > 0; at += 1) depth += { '{': 1, '}': -1 }[source[at] ?? ''] ?? 0
    const [, ...after] = source.slice(begin, at).split('await ')
    return after.length > 0 ? [after.join('await ')] : []
  })
}
const files = Object.entries(
  import.meta.glob<string>('../src/**/*.{vue,ts}', { query: '?raw', import: 'default', eager: true }),
).map(([name, source]) => ({ name, source }))

test('whoever changes the job after waiting asks whether it is still the one', () => {
  const found = files.flatMap(({ name, source }) =>
    waits(source)
      .filter((after) => /\bjob\.(change|rename|enter)\(|\balter\(/.test(after))
      .map((after) => ({ name, after })),
  )
  expect(found.length).toBeGreaterThan(2)
  for (const { name, after } of found) expect(after, name).toContain('counts()')
})
