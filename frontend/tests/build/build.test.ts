/** Entries that wait, what they come to on the screen, the countdown's clock and the view of the diagram. */
import { beforeEach, expect, test, vi } from 'vitest'
import { ref, effectScope } from 'vue'
import type { NewEntry, StepState } from '../../src/api/types'
import { useView } from '../../src/charts/diagram/view'
import { clockOf } from '../../src/stages/build/countdown'
import { overlaid } from '../../src/stages/build/overlay'
import { useWaiting } from '../../src/stages/build/waiting'

const entry = (id: string, kind: NewEntry['kind'], more: Partial<NewEntry> = {}): NewEntry => ({
  id,
  procedure: 'Build',
  step: 's',
  kind,
  text: '',
  value: null,
  unit: '',
  photo: '',
  by: 'E.K.',
  at: '2031-05-01T10:00:00Z',
  ...more,
})
const within = <T>(make: () => T): T => effectScope().run(make) as T

/** A store as browsers have it, which may be full. */
beforeEach(() => {
  const held = new Map<string, string>()
  vi.stubGlobal('window', new EventTarget())
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => held.get(key) ?? null,
    setItem: (key: string, value: string) => {
      held.set(key, value)
    },
  })
})

test('what waits is there after a reload, oldest first', () => {
  const first = within(() => useWaiting(() => 'k'))
  first.add({ entry: entry('a', 'reading') })
  first.add({ entry: entry('b', 'done') })
  const again = within(() => useWaiting(() => 'k'))
  expect(again.list.value.map((item) => item.entry.id)).toEqual(['a', 'b'])
  again.drop('a')
  expect(again.list.value.map((item) => item.entry.id)).toEqual(['b'])
})

test('two tabs lose nothing of each other', () => {
  const one = within(() => useWaiting(() => 'k'))
  const other = within(() => useWaiting(() => 'k'))
  one.add({ entry: entry('a', 'done') })
  other.add({ entry: entry('b', 'done') })
  one.drop('a')
  expect(within(() => useWaiting(() => 'k')).list.value.map((item) => item.entry.id)).toEqual(['b'])
})

test('each job has its own', () => {
  const key = ref('job.1')
  const list = within(() => useWaiting(() => key.value))
  list.add({ entry: entry('a', 'done') })
  expect(within(() => useWaiting(() => 'job.2')).list.value).toEqual([])
})

function come(...entries: NewEntry[]): StepState {
  const states = new Map<string, StepState>()
  for (const item of entries) overlaid(states, item)
  return states.get('Build|s') as StepState
}

test('a tick stands with its initials, a second one beside it', () => {
  const state = come(entry('a', 'done'), entry('b', 'done', { by: 'M.T.' }))
  expect([state.state, state.by, state.entries.length]).toEqual(['done', ['E.K.', 'M.T.'], 2])
})

test('skipped has its reason; opened again has none', () => {
  expect(come(entry('a', 'skip', { text: 'no seat' })).reason).toBe('no seat')
  const state = come(entry('a', 'skip', { text: 'no seat' }), entry('b', 'open'))
  expect([state.state, state.reason, state.by]).toEqual(['open', '', []])
})

test('a reading ticks nothing, and an entry the server has is not shown twice', () => {
  expect(come(entry('a', 'reading', { value: 12.6 })).state).toBe('open')
  expect(come(entry('a', 'done'), entry('a', 'done')).entries.length).toBe(1)
})

test('seconds as a clock', () => {
  expect([clockOf(0), clockOf(9), clockOf(60), clockOf(605)]).toEqual(['0:00', '0:09', '1:00', '10:05'])
})

test('the view stays on the drawing', () => {
  const view = within(() =>
    useView(
      () => 1000,
      () => 500,
      () => 2,
    ),
  )
  expect(view.box.value).toBe('0 0 1000 500')
  view.zoom(2)
  expect(view.box.value).toBe('250 125 500 250')
  view.move(-5, -5)
  expect(view.box.value).toBe('0 0 500 250')
  view.move(9, 9)
  expect(view.box.value).toBe('500 250 500 250')
  view.whole()
  expect(view.box.value).toBe('0 0 1000 500')
})

test('a tall place shows the whole drawing in its middle, and a spot where it is asked for', () => {
  const view = within(() =>
    useView(
      () => 1000,
      () => 500,
      () => 1,
    ),
  )
  expect(view.box.value).toBe('0 -250 1000 1000')
  view.centre(900, 400, 4)
  expect(view.box.value).toBe('750 275 250 250')
})
