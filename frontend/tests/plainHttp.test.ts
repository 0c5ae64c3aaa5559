/** Phones of the workshop reach it over plain HTTP, where browsers leave some things out: nothing needs them. */
import { expect, test } from 'vitest'
import { identity } from '../src/ui/identity'

// What W3C and WHATWG give to secure contexts alone, and where it is used with a way to go on without.
const SECURE =
  /randomUUID|crypto\.subtle|navigator\.(locks|clipboard|serviceWorker|mediaDevices|wakeLock|storage|share)|\bcaches\.|\bNotification\b|showSaveFilePicker/
const WITHOUT: Record<string, string> = {
  'job/draft.ts': 'a tab that cannot hold its name counts as the only one',
  'vehicle/held.ts': 'nothing is held where there is no cache',
  'vehicle/signal.ts': 'asked only where answers can be held',
}
const SOURCES = import.meta.glob<string>('../src/**/*.{vue,ts}', { query: '?raw', import: 'default', eager: true })

test('what only secure pages have is used nowhere else', () => {
  const using = Object.entries(SOURCES)
    .filter(([name, source]) => !name.includes('.gen.') && SECURE.test(source.replace(/\/\/.*|\/\*[^]*?\*\//g, '')))
    .map(([name]) => name.replace('../src/', ''))
  expect(using.sort()).toEqual(Object.keys(WITHOUT))
})

test('a name is of version 4, and new each time', () => {
  const names = Array.from({ length: 200 }, identity)
  for (const name of names)
    expect(name).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/)
  expect(new Set(names).size).toBe(200)
})
