import { expect, test } from 'vitest'
import { dateOf } from '../src/ui/locale'

test('a day is the same day wherever it is read, and never written as files have it', () => {
  const told = dateOf('2031-10-01')
  expect(told).toContain('2031')
  expect(told).not.toMatch(/\d{4}-\d\d-\d\d/)
  expect(dateOf('2031-01-31')).toMatch(/31/)
})

test('of today the time is enough, of another day its date is told', async () => {
  const { lately } = await import('../src/ui/locale')
  const now = new Date(2031, 4, 2, 18, 0)
  expect(lately(new Date(2031, 4, 2, 9, 5), now)).toMatch(/\d/)
  expect(lately(new Date(2031, 4, 2, 9, 5), now)).not.toContain('2031')
  expect(lately(new Date(2030, 4, 2, 9, 5), now)).toContain('2030')
})
