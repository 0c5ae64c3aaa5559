/** A save whose answer was lost is known again, among those of its job that were never answered. */
import { expect, test } from 'vitest'
import type { Design } from '../src/api/types'
import { useUnanswered } from '../src/job/unanswered'

const saved = (length: number, title = 'Milk float') => ({
  title,
  code: 'MF-1',
  customer: '',
  design: { distances: { supply_m: length, delivery_m: null }, use: { daily_ah: 40 } } as unknown as Design,
})
/** As it comes back: the same values, in another order. */
const back = (what: ReturnType<typeof saved>) => JSON.parse(JSON.stringify(turned(what))) as typeof what
const turned = (value: unknown): unknown =>
  value !== null && typeof value === 'object'
    ? Object.fromEntries(
        Object.entries(value)
          .reverse()
          .map(([key, item]) => [key, turned(item)]),
      )
    : value

test('any of those sent is known, whatever the order of its keys; nothing else is', () => {
  const waiting = useUnanswered()
  waiting.sent(5, saved(4))
  waiting.sent(5, saved(5))
  expect(waiting.holds(5, back(saved(4)))).toBe(true)
  expect(waiting.holds(5, back(saved(5)))).toBe(true)
  expect(waiting.holds(5, back(saved(6)))).toBe(false)
  expect(waiting.holds(5, back(saved(4, 'Milk float, sold')))).toBe(false)
  expect(waiting.holds(4, back(saved(4)))).toBe(false)
})

test('an answer settles them all, and another job has its own', () => {
  const waiting = useUnanswered()
  waiting.sent(5, saved(4))
  waiting.answered()
  expect(waiting.holds(5, saved(4))).toBe(false)
  waiting.sent(5, saved(4))
  waiting.sent(6, saved(7))
  expect(waiting.holds(5, saved(4))).toBe(false)
  expect(waiting.holds(6, saved(7))).toBe(true)
})
