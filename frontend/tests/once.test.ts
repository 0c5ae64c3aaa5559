import { afterEach, expect, test, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { once, useJustChanged } from '../src/ui/once'

afterEach(() => {
  vi.useRealTimers()
})

test('pressed again while it is under way, nothing is begun; after that, whether it went well or not, it is', async () => {
  const ends: ((way: 'well' | 'badly') => void)[] = []
  const [run, busy] = once(
    () =>
      new Promise<void>((done, failed) => {
        ends.push((way) => {
          if (way === 'well') done()
          else failed(new Error('away'))
        })
      }),
  )
  const first = run()
  await run()
  expect([ends.length, busy.value]).toEqual([1, true])
  ends[0]?.('badly')
  await expect(first).rejects.toThrow('away')
  expect(busy.value).toBe(false)
  const third = run()
  expect(ends.length).toBe(2)
  ends[1]?.('well')
  await third
})

test('what has just come is new for less than half a second, each time anew', async () => {
  vi.useFakeTimers()
  const what = ref('one')
  const fresh = effectScope().run(() => useJustChanged(() => what.value))
  const turn = async (to: string): Promise<void> => {
    what.value = to
    await nextTick()
  }
  expect(fresh?.value).toBe(false)
  await turn('two')
  vi.advanceTimersByTime(399)
  expect(fresh?.value).toBe(true)
  await turn('three')
  vi.advanceTimersByTime(399)
  expect(fresh?.value).toBe(true)
  vi.advanceTimersByTime(1)
  expect(fresh?.value).toBe(false)
})
