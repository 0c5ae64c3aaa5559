/** The lines of a menu: moved, named, and their choices as text and back. */
import { describe, expect, it } from 'vitest'
import {
  choicesFrom,
  choicesText,
  freshLine,
  moved,
  rangeText,
  valueFrom,
  type MenuLine,
} from '../../src/shelf/menuLines'

const line = (change: object) => ({ id: 'a', label: 'A', kind: 'switch', ...change }) as unknown as MenuLine

describe('moved', () => {
  const three = [line({ id: 'a' }), line({ id: 'b' }), line({ id: 'c' })]
  const ids = (lines: MenuLine[]) => lines.map((item) => item.id).join('')
  it('moves one up or down', () => {
    expect(ids(moved(three, 2, -1))).toBe('acb')
    expect(ids(moved(three, 0, 1))).toBe('bac')
  })
  it('leaves the ends where they are', () => {
    expect(ids(moved(three, 0, -1))).toBe('abc')
    expect(ids(moved(three, 2, 1))).toBe('abc')
  })
})

describe('choices', () => {
  it('come back from their text as they went', () => {
    const options = [
      {
        label: 'lead',
        stands_for: 'flooded',
        rewrites: [
          { line: 'absorb', value: 14.6 },
          { line: 'equal', value: 'on' },
        ],
      },
      { label: 'own', stands_for: '', rewrites: [] },
    ]
    const text = choicesText(line({ kind: 'choice', options }))
    expect(text).toBe('lead = flooded > absorb: 14.6, equal: on\nown')
    expect(choicesFrom(text)).toEqual(options)
  })
  it('take a decimal comma', () => {
    expect(choicesFrom('lead > absorb: 14,6')?.[0]?.rewrites?.[0]?.value).toBe(14.6)
  })
})

describe('a line', () => {
  it('is named unlike the others', () => {
    expect(freshLine([line({ id: 'line2' })]).id).toBe('line3')
  })
  it('says what it can be set to', () => {
    expect(rangeText(line({ kind: 'number', from_value: 12, to_value: 15, step: 0.1, unit: 'V' }))).toBe(
      '12 to 15 by 0.1 V',
    )
    expect(rangeText(line({ kind: 'number', steps: [10, 20], unit: 'A' }))).toBe('10, 20 A')
    expect(rangeText(line({}))).toBe('on or off')
  })
  it('takes numbers, words and nothing', () => {
    expect([valueFrom('14,6'), valueFrom(' lead '), valueFrom('  ')]).toEqual([14.6, 'lead', null])
    expect([valueFrom('1,000'), valueFrom('1.2.3'), valueFrom('0.0')]).toEqual(['1,000', '1.2.3', 0])
  })
})
