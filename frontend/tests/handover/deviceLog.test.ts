/** A log's sample is whole lines of the file; a mapping keeps each role once and each unit its measure's own. */
import { expect, test } from 'vitest'
import type { LogMapping, LookedAt } from '../../src/api/types'
import { mappingOf, sampleOf, statesOf, withRole, withState } from '../../src/stages/handover/logs/deviceLog'
import { lasting } from '../../src/stages/handover/logs/when'

const UNITS = { input_v: ['V', 'mV'], output_v: ['V', 'mV'], input_a: ['A', 'mA'] }
const column = (name: string, role = '', unit = '') => ({ name, role, unit }) as LogMapping['columns'][number]
const MAPPING: LogMapping = {
  encoding: 'utf-8',
  delimiter: ';',
  decimal: ',',
  header_line: 2,
  columns: [column('When', 'moment'), column('In', 'input_v', 'mV'), column('Out', 'output_v', 'V'), column('Note')],
  order: 'dmy',
  zone: 'Europe/Lisbon',
  charging: [],
  resting: [],
}
const looked = (more: Partial<LookedAt> = {}, written = false): LookedAt => ({
  sniffed: {
    ...MAPPING,
    zone_written: written,
    doubts: [],
    rows: [],
    words: [[], [], [], ['Bulk', 'Off', 'Rest']],
    charging: ['Bulk'],
  } as unknown as LookedAt['sniffed'],
  kind: null,
  mapping: null,
  units: UNITS,
  ...more,
})
const text = (rows: number) =>
  ['When;In', ...Array.from({ length: rows }, (_, at) => `row ${String(at).padStart(7, '0')};${at}`)].join('\n') + '\n'

test('a small file is its own sample', async () => {
  const whole = text(50)
  expect(await (await sampleOf(new Blob([whole]))).text()).toBe(whole)
})

test('of a large file the sample begins as it does and holds whole lines from all over it', async () => {
  const whole = text(200_000)
  const lines = new Set(whole.split('\n'))
  const sample = await (await sampleOf(new Blob([whole]))).text()
  const got = sample.split('\n')
  expect(got[0]).toBe('When;In')
  expect(got.at(-1)).toBe('')
  expect(got.every((line) => lines.has(line))).toBe(true)
  expect(sample.length).toBeLessThan(140_000)
  const numbers = got.slice(1, -1).map((line) => Number(line.split(';')[1]))
  expect(Math.max(...numbers)).toBeGreaterThan(150_000)
  expect([...numbers].sort((one, other) => one - other)).toEqual(numbers)
})

test('of a file in UTF-16 no character is cut', async () => {
  const units = new Uint16Array(200_000).fill(0x41)
  units[0] = 0xfeff
  const sample = await sampleOf(new Blob([units]))
  expect(sample.size % 2).toBe(0)
  expect(sample.size).toBe(200_000)
})

test('a known kind is read as it was mapped, another as guessed, in the zone of this place', () => {
  const known = { ...MAPPING, zone: 'UTC' }
  expect(mappingOf(looked({ kind: 3, mapping: known }))).toBe(known)
  const guessed = mappingOf(looked())
  expect(guessed.columns).toEqual(MAPPING.columns)
  expect(guessed.zone).toBe(Intl.DateTimeFormat().resolvedOptions().timeZone)
  expect(mappingOf(looked({}, true)).zone).toBe('UTC')
})

test('a role that is given to another column leaves the one that had it', () => {
  const next = withRole(MAPPING, 3, 'input_v', looked())
  expect(next.columns.map((item) => item.role)).toEqual(['moment', '', 'output_v', 'input_v'])
  expect(next.columns[1]?.unit).toBe('')
  expect(next.columns[3]?.unit).toBe('V')
})

test('a unit stays where the new measure has it, else the first of its own is taken', () => {
  expect(withRole(MAPPING, 1, 'output_v', looked()).columns[1]?.unit).toBe('mV')
  expect(withRole(MAPPING, 1, 'input_a', looked()).columns[1]?.unit).toBe('A')
  expect(withRole(MAPPING, 1, '', looked()).columns[1]?.unit).toBe('')
  expect(MAPPING.columns[1]?.unit).toBe('mV')
})

test('states are in one list or the other, as they are likely to be meant, until somebody says so', () => {
  const guessed = withRole(MAPPING, 3, 'charging', looked())
  expect([guessed.charging, guessed.resting]).toEqual([['Bulk'], ['Off', 'Rest']])
  const said = withState(guessed, looked(), 'Rest', true)
  expect([said.charging, said.resting]).toEqual([['Bulk', 'Rest'], ['Off']])
  expect(statesOf(said, looked())).toEqual(['Bulk', 'Off', 'Rest'])
  expect(withRole(said, 3, '', looked()).charging).toEqual([])
})

test.each([
  [8, '8 s'],
  [119, '119 s'],
  [150, '3 min'],
  [7300, '2 h'],
  [3 * 86_400, '3 days'],
])('%d seconds are said as %s', (seconds, said) => {
  expect(lasting(seconds)).toBe(said)
})
