import { expect, test } from 'vitest'
import { joins } from '../src/job/links'
import type { Design } from '../src/api/types'

type Existing = NonNullable<Design['existing']>[number]
const there = (kind: Existing['kind'], cut: boolean) => ({ id: 'e1', kind, cut }) as Existing

test('a link or a panel joins the batteries until its feed is cut; nothing else does', () => {
  expect([there('link', false), there('panel', false)].map(joins)).toEqual([true, true])
  expect([there('link', true), there('panel', true), there('mains_charger', false)].map(joins)).toEqual([
    false,
    false,
    false,
  ])
})
