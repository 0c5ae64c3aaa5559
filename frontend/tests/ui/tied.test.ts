/** Where a line may not end. */
import { describe, expect, it } from 'vitest'
import { tied } from '../../src/ui/tied'

const open = (text: string) => tied(text).replaceAll('\u00a0', '_')

describe('a number', () => {
  it.each([
    ['pulls the terminals to 11,49 V; the guard', 'pulls the terminals to 11,49_V; the guard'],
    ['UL Class T 80 A does not', 'UL Class T 80_A does not'],
    ['Use 25 mm² to stay within 3 %', 'Use 25_mm² to stay within 3_%'],
    ['Use 1/0 AWG over 13.8 ft', 'Use 1/0_AWG over 13.8_ft'],
    ['after 2 h 30 min at 104 °F', 'after 2_h 30_min at 104_°F'],
    ['86.1 mΩ and −24 mV/K', '86.1_mΩ and −24_mV/K'],
  ])('stays beside its unit: %s', (text, set) => {
    expect(open(text)).toBe(set)
  })

  it.each(['3 stops, 2 cautions', 'step 2 holds it', 'after 30 minutes', '12 Volts are not 12 hours', 'V 12'])(
    'parts from a word: %s',
    (text) => {
      expect(open(text)).toBe(text)
    },
  )
})
