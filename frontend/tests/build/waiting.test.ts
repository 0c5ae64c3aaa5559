/** What waits on a device that is full: nothing is lost, nothing is sent for ever. */
import { beforeEach, expect, test, vi } from 'vitest'
import { effectScope } from 'vue'
import { useWaiting, type Waiting } from '../../src/stages/build/waiting'

let room = Infinity
const held = new Map<string, string>()
beforeEach(() => {
  held.clear()
  room = Infinity
  vi.stubGlobal('window', new EventTarget())
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => held.get(key) ?? null,
    setItem: (key: string, value: string) => {
      if (value.length > room) throw new Error('full')
      held.set(key, value)
    },
  })
})
const item = (id: string): Waiting => ({ entry: { id, step: 's', kind: 'done', at: '2031-05-01T10:00:00Z' } as never })
const open = () => effectScope().run(() => useWaiting(() => 'k')) as ReturnType<typeof useWaiting>
const ids = (kept: ReturnType<typeof open>) => kept.list.value.map(({ entry }) => entry.id)

test('a full device keeps on the page what has no room, and each is handed in once', () => {
  const kept = open()
  kept.add(item('one'))
  kept.add(item('two'))
  room = (held.get('k') ?? '').length
  kept.add(item('three'))
  expect(ids(kept)).toEqual(['one', 'two', 'three'])
  expect(kept.full.value).toBe(1)
  const handed: string[] = []
  for (let next = ids(kept)[0]; next !== undefined && handed.length < 9; next = ids(kept)[0]) {
    handed.push(next)
    kept.drop(next)
  }
  expect(handed).toEqual(['one', 'two', 'three'])
  expect(kept.full.value).toBe(0)
  expect(open().list.value).toEqual([])
})

test('without any room at all it is still handed in', () => {
  room = 0
  const kept = open()
  kept.add(item('one'))
  expect([ids(kept), kept.full.value]).toEqual([['one'], 1])
  kept.drop('one')
  expect([ids(kept), kept.full.value]).toEqual([[], 0])
})
