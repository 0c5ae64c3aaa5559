/** Answers asked for before their screen is there: taken once, by who asks the same, while they are fresh. */
import { afterEach, expect, it, vi } from 'vitest'
import { askAhead, asked, atHand } from '../src/api/ahead'

afterEach(() => {
  vi.useRealTimers()
})

it('is taken once, by who asks the same', async () => {
  void askAhead('job 4', () => Promise.resolve('ahead'))
  expect(await asked('job 5', () => Promise.resolve('anew'))).toBe('anew')
  expect(await asked('job 4', () => Promise.resolve('anew'))).toBe('ahead')
  expect(await asked('job 4', () => Promise.resolve('anew'))).toBe('anew')
})

it('is not taken once it is old: others may have changed the job meanwhile', async () => {
  vi.useFakeTimers({ toFake: ['performance'] })
  void askAhead('job 4', () => Promise.resolve('ahead'))
  vi.advanceTimersByTime(60_000)
  expect(await asked('job 4', () => Promise.resolve('anew'))).toBe('anew')
})

it('tells whoever takes it what went wrong, and nobody else', async () => {
  void askAhead('job 4', () => Promise.reject(new Error('away')))
  await expect(asked('job 4', () => Promise.resolve('anew'))).rejects.toThrow('away')
  void askAhead('job 4', () => Promise.reject(new Error('away')))
})

it('is at hand once it has come, for who asks the same, once', async () => {
  const comes = askAhead('yard', () => Promise.resolve('ahead'))
  expect(atHand('yard')).toBeUndefined()
  await comes
  expect(atHand('shelf')).toBeUndefined()
  expect(atHand('yard')).toBe('ahead')
  expect(atHand('yard')).toBeUndefined()
  expect(await asked('yard', () => Promise.resolve('anew'))).toBe('anew')
})

it('that failed is at hand for nobody; who waits for it is told', async () => {
  await askAhead('yard', () => Promise.reject(new Error('away')))
  expect(atHand('yard')).toBeUndefined()
  await expect(asked('yard', () => Promise.resolve('anew'))).rejects.toThrow('away')
})
