import { expect, test } from 'vitest'
import { dateOf } from '../src/ui/locale'

test('a day is the same day wherever it is read, and never written as files have it', () => {
  const told = dateOf('2031-10-01')
  expect(told).toContain('2031')
  expect(told).not.toMatch(/\d{4}-\d\d-\d\d/)
  expect(dateOf('2031-01-31')).toMatch(/31/)
})
