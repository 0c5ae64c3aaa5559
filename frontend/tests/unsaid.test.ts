/** What fails is said: by the screen that asks, or by the bar above all of them. */
import { QueryClient, QueryObserver } from '@tanstack/vue-query'
import { expect, test } from 'vitest'
import { refusal, Unreachable } from '../src/api/client'
import { askAgain, askedAgain, missing, sayUndone, undone, watchAnswers } from '../src/api/unsaid'

const SOURCES = import.meta.glob<string>('../src/**/*.{vue,ts}', { query: '?raw', import: 'default', eager: true })

test('an answer that fails is told for as long as a screen waits for it, unless the screen tells it', async () => {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  watchAnswers(queries)
  let works = false
  const ask = (): Promise<number> =>
    works ? Promise.resolve(1) : Promise.reject(refusal({ detail: 'The disk is full.' }, 507))
  const quiet = new QueryObserver(queries, { queryKey: ['a'], queryFn: ask, meta: { said: true } }).subscribe(() => 0)
  await expect.poll(() => queries.getQueryState(['a'])?.status).toBe('error')
  expect(missing.value).toBe('')
  const loud = new QueryObserver(queries, { queryKey: ['b'], queryFn: ask }).subscribe(() => 0)
  await expect.poll(() => missing.value).toBe('The disk is full.')
  works = true
  await askAgain(queries)
  expect(missing.value).toBe('')
  works = false
  await queries.refetchQueries({ queryKey: ['b'] })
  expect(missing.value).not.toBe('')
  loud()
  expect(missing.value).toBe('')
  quiet()
})

test('asked again by itself is what may go well later: no signal or a fault of the server, nothing refused', () => {
  const after = (error: Error | null) => askedAgain({ state: { error } })
  expect(after(null)).toBe(false)
  expect(after(refusal({}, 422))).toBe(false)
  expect(after(refusal({}, 503))).toBeGreaterThan(0)
  expect(after(new Unreachable('away'))).toBeGreaterThan(0)
})

test('what is pressed and fails is told with its reason; a fault of our own with what to do', () => {
  expect(sayUndone(refusal({ detail: 'Saved elsewhere.' }, 409))).toBe(true)
  expect(undone.value).toBe('Saved elsewhere.')
  expect(sayUndone(new Unreachable('away'))).toBe(true)
  expect(undone.value).toContain('does not answer')
  expect(sayUndone(new TypeError('x is undefined'))).toBe(false)
  expect(undone.value).toContain('does not answer') // the better reason stays
  undone.value = ''
  expect(sayUndone(new DOMException('ended', 'AbortError'))).toBe(true)
  expect(undone.value).toBe('')
  sayUndone(new TypeError('x is undefined'))
  expect(undone.value).toContain('Reload')
})

test('a screen that does not show why there is no answer leaves it to the bar', () => {
  const uses = Object.values(SOURCES).flatMap((text) =>
    [...text.matchAll(/^( *)const (\{[^}]*\}|\w+) = useDerived\([\s\S]*?\n\1[)}].*$/gm)].map((use) => ({ text, use })),
  )
  expect(uses.length).toBeGreaterThan(15)
  const silent = uses.filter(({ text, use }) => {
    const held = use[2] ?? ''
    const shows = held.startsWith('{')
      ? held.includes('trouble') && text.includes('AnswerState')
      : text.includes(`${held}.trouble`)
    return !shows && !use[0].includes('said: false')
  })
  expect(silent.map(({ use }) => use[0])).toEqual([])
})
