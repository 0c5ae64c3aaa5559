/** The arrow keys in an entry: a step more or less of what stands there, and nothing of what is no number. */
import { expect, test, vi } from 'vitest'
import { stepped } from '../../src/ui/stepped'

const key = (name: string) => ({ key: name, preventDefault: vi.fn() })

test.each([
  ['ArrowUp', '0.2', 0.05, 0.25],
  ['ArrowDown', '0.1', 0.1, 0],
  ['ArrowDown', '-10', 1, -11],
  ['ArrowUp', '12,5', 0.5, 13],
  ['ArrowUp', '', 1, null],
  ['ArrowUp', 'four', 1, null],
  ['ArrowUp', '1,000', 1, null],
  ['ArrowUp', '3', 0, null],
  ['Enter', '3', 1, null],
])('%s on “%s” by %s gives %s', (name, text, step, is) => {
  expect(stepped(key(name), text, step)).toBe(is)
})

test('only a key that steps is kept from the page', () => {
  const [up, enter] = [key('ArrowUp'), key('Enter')]
  stepped(up, '3', 1)
  stepped(enter, '3', 1)
  expect([up, enter].map((event) => event.preventDefault.mock.calls.length)).toEqual([1, 0])
})
