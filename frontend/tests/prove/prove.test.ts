/** Which readings count: those since the last cure; all are kept. */
import { expect, test } from 'vitest'
import { ref } from 'vue'
import type { StepState } from '../../src/api/types'
import { kindOf, KINDS } from '../../src/stages/handover/logbook'
import { useReadings } from '../../src/stages/prove/readings'

type Kept = StepState['entries'][number]
let count = 0
const entry = (step: string, kind: Kept['kind'], at: string, value: number | null = null, text = ''): Kept => ({
  id: `entry-${String(count++)}`,
  procedure: 'Prove',
  step,
  kind,
  text,
  value,
  unit: 'V',
  photo: '',
  by: 'E.K.',
  at,
  received: at,
})
const state = (procedure: string, step: string, entries: Kept[]): [string, StepState] => [
  `${procedure}|${step}`,
  { procedure, step, state: 'open', by: [], at: null, reason: '', entries, accounts: [] },
]
const found = (states: [string, StepState][]) => useReadings({ states: ref(new Map(states)) } as never)

test('a new visit leaves out what was read before it, until it is taken back', () => {
  const read = state('Prove', 'posts_v', [
    entry('posts_v', 'reading', '2031-05-01T10:00:00+00:00', 13.7),
    entry('posts_v', 'reading', '2032-03-01T10:00:00+00:00', 12.9),
  ])
  const begun = [
    entry('visit', 'done', '2031-09-01T10:00:00+00:00'),
    entry('visit', 'done', '2032-06-01T10:00:00+00:00'),
  ]
  const none = found([read, state('Prove', 'visit', begun)])
  expect(none.readings.value).toEqual([])
  expect([none.visit.value, none.latest.value]).toEqual(['2032-06-01T10:00:00+00:00', ''])
  const back = found([read, state('Prove', 'visit', [...begun, entry('visit', 'open', '2032-06-01T10:01:00+00:00')])])
  expect(back.readings.value).toEqual([{ test: 'posts_v', value: 12.9 }])
  expect(back.latest.value).toBe('2032-03-01T10:00:00+00:00')
})

test('readings before the last cure are kept and no longer judged', () => {
  const { readings, all, cures } = found([
    state('Prove', 'supply_back_mv', [
      entry('supply_back_mv', 'reading', '2031-05-01T10:00:00+00:00', 640),
      entry('supply_back_mv', 'reading', '2031-05-01T10:09:00.000Z', 171),
    ]),
    state('Prove', 'posts_v', [entry('posts_v', 'reading', '2031-05-01T10:01:00+00:00', 13.7)]),
    state('Prove', 'cure', [entry('cure', 'note', '2031-05-01T10:05:00+00:00', null, 'Mended')]),
    state('Build', 'posts_v', [entry('posts_v', 'reading', '2031-05-01T10:10:00+00:00', 9)]),
  ])
  expect(readings.value).toEqual([{ test: 'supply_back_mv', value: 171 }])
  expect(all.value).toHaveLength(3)
  expect(cures.value.map((item) => item.text)).toEqual(['Mended'])
})

test('without a cure every reading counts, and a note is none', () => {
  const { readings } = found([
    state('Prove', 'posts_v', [
      entry('posts_v', 'reading', '2031-05-01T10:01:00+00:00', 13.7),
      entry('posts_v', 'note', '2031-05-01T10:02:00+00:00', null, 'noisy'),
      entry('posts_v', 'reading', '2031-05-01T10:03:00+00:00', 13.8),
    ]),
  ])
  expect(readings.value.map((item) => item.value)).toEqual([13.7, 13.8])
})

test('zero is a reading: it is the first answer of a look', () => {
  const { readings } = found([state('Prove', 'toggled', [entry('toggled', 'reading', '2031-05-01T10:01:00+00:00', 0)])])
  expect(readings.value).toEqual([{ test: 'toggled', value: 0 }])
})

test('every kind of the logbook has its words, and one nobody knows keeps its own', () => {
  expect(new Set(KINDS.map((kind) => kind.key)).size).toBe(KINDS.length)
  expect(kindOf('loop_mohm').unit).toBe('mΩ')
  expect(kindOf('something').label).toBe('something')
})
