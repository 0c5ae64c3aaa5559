/** Answers held on this device: the server first, what is held where it is away, never anything that changes something. */
import { beforeEach, describe, expect, it, vi } from 'vitest'

const SITE = 'http://van.example'
let held: Map<string, Response>
let away: boolean
let asked: string[]

function stub(): void {
  held = new Map()
  away = false
  asked = []
  const cache = { put: (name: string, answer: Response) => Promise.resolve(void held.set(name, answer)) }
  vi.stubGlobal('caches', {
    has: () => Promise.resolve(held.size > 0),
    open: () => Promise.resolve(cache),
    match: (name: string) => Promise.resolve(held.get(name)?.clone()),
    delete: () => Promise.resolve(held.clear()),
  })
  vi.stubGlobal('fetch', async (request: Request) => {
    if (away) throw new TypeError('away')
    asked.push(request.url)
    return new Response(`answer ${asked.length} to ${await request.text()}`)
  })
}
/** The module as a page finds it that has just been opened. */
async function opened(): Promise<typeof import('../src/vehicle/held')> {
  vi.resetModules()
  return import('../src/vehicle/held')
}
const get = (path: string) => new Request(SITE + path)
const post = (path: string, body: string) => new Request(SITE + path, { method: 'POST', body })
const said = async (answer: Promise<Response>) => (await answer).text()

beforeEach(stub)

describe('a device that holds answers', () => {
  it('asks the server first, and gives what is held where it is away', async () => {
    const { heldFetch } = await opened()
    expect(await said(heldFetch(get('/api/jobs/4'), true))).toBe('answer 1 to ')
    expect(await said(heldFetch(post('/api/assess', 'a'), true))).toBe('answer 2 to a')
    const again = (await opened()).heldFetch
    expect(await said(again(post('/api/assess', 'a')))).toBe('answer 3 to a')
    away = true
    const kept = await again(post('/api/assess', 'a'))
    expect(await kept.text()).toBe('answer 2 to a')
    expect(Date.parse(kept.headers.get('x-olvask-as-of') ?? '')).toBeGreaterThan(0)
    await expect(again(post('/api/assess', 'b'))).rejects.toThrow('away')
    expect(await said(again(get('/api/jobs/4')))).toBe('answer 1 to ')
  })

  it('keeps a held address up to date, and holds no other', async () => {
    const { heldFetch } = await opened()
    await heldFetch(get('/api/jobs/4'), true)
    await heldFetch(get('/api/jobs/4'))
    await heldFetch(get('/api/jobs/5'))
    await vi.waitFor(async () => {
      expect(await held.get(`${SITE}/api/jobs/4`)?.clone().text()).toBe('answer 2 to ')
    })
    expect([...held.keys()]).toEqual([`${SITE}/api/jobs/4`])
  })

  it.each(['/api/jobs/4/build', '/api/house', '/api/sign-in'])(
    'never answers what changes something: %s',
    async (path) => {
      const { heldFetch } = await opened()
      await heldFetch(get('/api/jobs/4'), true)
      await heldFetch(post(path, 'x'), true)
      expect(held.size).toBe(1)
      away = true
      await expect(heldFetch(post(path, 'x'))).rejects.toThrow('away')
    },
  )

  it('forgets all of it', async () => {
    const { heldFetch, forget } = await opened()
    await heldFetch(get('/api/jobs/4'), true)
    await forget()
    away = true
    await expect(heldFetch(get('/api/jobs/4'))).rejects.toThrow('away')
    await expect(heldFetch(get('/api/me'), true)).rejects.toThrow('away')
  })
})
