import { expect, test } from 'vitest'
import { seen } from '../../src/ui/pasted'

test.each([
  ['\u202a+44 20 7946 0018\u202c', '+44 20 7946 0018'], // as a telephone copies a number
  ['12\u200b.5', '12.5'],
  ['\ufeffKeld', 'Keld'],
  ['a\u2067b\u2069\u0007c\u0085', 'abc'],
])('what nobody sees is left out of what is pasted', (pasted, entered) => {
  expect(seen(pasted)).toBe(entered)
})

test.each(['first line\nsecond\tcolumn', '35\u00a0mm²', 'می\u200cخواهم', '👩\u200d🔧', 'Łukasz, 日本, ½"'])(
  'what is seen, or shapes what is seen, stays: %s',
  (text) => {
    expect(seen(text)).toBe(text)
  },
)
