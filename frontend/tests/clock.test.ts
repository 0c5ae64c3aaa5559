import { afterEach, expect, test, vi } from 'vitest'
import { heard, notedAt } from '../src/api/clock'

const NOON = Date.parse('2026-05-04T12:00:00Z')
const said = (date: string, more: Record<string, string> = {}) => new Response('', { headers: { date, ...more } })
afterEach(() => {
  vi.useRealTimers()
})

test.each([
  ['right', 0, '12:00:00'],
  ['slow by as much as an answer takes', 40, '12:00:00'],
  ['an hour behind', 3600, '13:00:00'],
  ['a day ahead', -86_400, '12:00:00'],
])('a clock that is %s', (_how, off_s, time) => {
  vi.useFakeTimers({ now: NOON })
  heard(said(new Date(NOON + off_s * 1000).toUTCString()))
  expect(notedAt()).toContain(`T${time}`)
  expect(notedAt().slice(0, 10)).toBe(off_s < -80_000 ? '2026-05-03' : '2026-05-04')
  // Out of reach it stays as it was heard last: held answers and answers without a time tell nothing.
  heard(said(new Date(NOON + 7200_000).toUTCString(), { 'x-olvask-as-of': '2026-05-04T12:00:00Z' }))
  heard(new Response(''))
  expect(notedAt()).toContain(`T${time}`)
})
