import { expect, test } from 'vitest'
import { made, madeBy } from '../src/api/repeated'

const NAME = 'Idempotency-Key'
const answer = (status: number): Promise<Response> => Promise.resolve(new Response('{}', { status }))
const names: string[] = []
const ask =
  (then: () => Promise<Response>) =>
  (more: Record<string, string>): Promise<Response> => {
    names.push(more[NAME] ?? '')
    return then()
  }
const job = (body: string, then: () => Promise<Response>): Promise<Response> =>
  made('/api/jobs', () => Promise.resolve(body), ask(then))

test('asked again without an answer it has the same name; answered, or with other words, a new one', async () => {
  await expect(job('a', () => Promise.reject(new TypeError('lost')))).rejects.toThrow('lost')
  await job('a', () => answer(503))
  await job('b', () => answer(201))
  await job('a', () => answer(201))
  await job('a', () => answer(422))
  const [lost, again, other, stored, anew] = names
  expect(lost).toMatch(/^[0-9a-f-]{36}$/)
  expect([again, stored]).toEqual([lost, lost])
  expect(new Set([lost, other, anew]).size).toBe(3)
})

test('questions have no name, and what is made keeps its words', async () => {
  const heard: [string | null, string][] = []
  const hear = async (request: Request): Promise<Response> => {
    heard.push([request.headers.get(NAME), await request.text()])
    return answer(200)
  }
  const post = (path: string): Request => new Request(`http://here${path}`, { method: 'POST', body: '{"x":1}' })
  for (const path of ['/api/assess', '/api/jobs/3/build', '/api/jobs/3/options']) await madeBy(post(path), hear)
  expect(heard.map(([name]) => name !== null)).toEqual([false, false, true])
  expect(heard.map(([, body]) => body)).toEqual(['{"x":1}', '{"x":1}', '{"x":1}'])
})
