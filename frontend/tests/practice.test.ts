/** Names of exercises: where they are done, which comes next, how long it took. */
import { expect, test } from 'vitest'
import { addressOf, nextNumber, reading, spent } from '../src/practice/names'

test('an exercise is found by its name', () => {
  expect(addressOf('case 3-17')).toBe('/practice/case/3-17')
  expect(addressOf('keeps_up 4')).toBe('/practice/drill/keeps_up/4')
})

test('the next number is the first that was not done, whatever else was', () => {
  expect(nextNumber([], 'case 1-')).toBe(1)
  expect(nextNumber(['case 1-1', 'case 1-2', 'case 1-4', 'case 2-3', 'size 3'], 'case 1-')).toBe(3)
  expect(nextNumber(['size 1', 'size 2'], 'size ')).toBe(3)
  expect(nextNumber(['size 1'], 'fuse ')).toBe(1)
})

test('minutes as one says them', () => {
  expect([4.4, 59, 60, 223].map(spent)).toEqual(['4 min', '59 min', '1 h 0 min', '3 h 43 min'])
})

test('a reading has the digits its meter shows', () => {
  expect([reading(13.4, 'V'), reading(20, 'A'), reading(171.25, 'mV'), reading(23, 'mA')]).toEqual([
    '13.40\u00a0V',
    '20.0\u00a0A',
    '171.3\u00a0mV',
    '23\u00a0mA',
  ])
})
