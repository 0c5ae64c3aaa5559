/** Answers asked for before their screen is there: taken once, by who asks the same, while they are fresh. */
import { afterEach, expect, it, vi } from 'vitest'
import { askAhead, asked } from '../src/api/ahead'

afterEach(() => {
  vi.useRealTimers()
})

it('is taken once, by who asks the same', async () => {
  askAhead('job 4', () => Promise.resolve('ahead'))
  expect(await asked('job 5', () => Promise.resolve('anew'))).toBe('anew')
  expect(await asked('job 4', () => Promise.resolve('anew'))).toBe('ahead')
  expect(await asked('job 4', () => Promise.resolve('anew'))).toBe('anew')
})

it('is not taken once it is old: others may have changed the job meanwhile', async () => {
  vi.useFakeTimers({ toFake: ['performance'] })
  askAhead('job 4', () => Promise.resolve('ahead'))
  vi.advanceTimersByTime(60_000)
  expect(await asked('job 4', () => Promise.resolve('anew'))).toBe('anew')
})

it('tells whoever takes it what went wrong, and nobody else', async () => {
  askAhead('job 4', () => Promise.reject(new Error('away')))
  await expect(asked('job 4', () => Promise.resolve('anew'))).rejects.toThrow('away')
  askAhead('job 4', () => Promise.reject(new Error('away')))
})
