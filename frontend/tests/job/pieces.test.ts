/** What is said of a piece stays with that piece through every edit, and never lands on another. */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Design } from '../../src/api/types'
import { changed } from '../../src/job/change'
import { useHistory } from '../../src/job/history'
import { getAt, setAt } from '../../src/job/path'
import { inserted, pathOf, placed, piecesOf, removed, shifted, split, type Edit } from '../../src/job/pieces'
import { patternOf } from '../../src/ui/fields'

type Run = 'supply' | 'delivery'
const KINDS = ['cable', 'device', 'joint', 'branch'] as const
const HEADING = { title: '', code: '', customer: '' }

/** Cables of lengths that tell them apart, every one measured. */
function designOf(lengths: readonly number[]): Design {
  const cables = lengths.map((length_m, at) => ({ id: `c${at + 1}`, kind: 'cable', size: '16 mm²', length_m }))
  const half = Math.ceil(cables.length / 2)
  const [supply, delivery] = [cables.slice(0, half), cables.slice(half)]
  const said = (run: Run, pieces: typeof cables) =>
    pieces.map((piece) => [`${run}.pieces.${piece.id}.length_m`, 'measured'] as const)
  return {
    supply: { pieces: supply, back: { kind: 'cable' } },
    delivery: { pieces: delivery, back: { kind: 'cable' } },
    provenance: Object.fromEntries([...said('supply', supply), ...said('delivery', delivery)]),
  } as unknown as Design
}

const idsOf = (design: Design) =>
  (['supply', 'delivery'] as const).flatMap((run) => piecesOf(design, run).map((piece) => piece.id ?? ''))

const steps = fc.array(
  fc.record({
    act: fc.constantFrom('insert', 'move', 'split', 'delete', 'undo', 'redo'),
    at: fc.nat(40),
    kind: fc.constantFrom(...KINDS),
    by: fc.constantFrom(1 as const, -1 as const),
  }),
  { maxLength: 25 },
)
const lengths = fc.uniqueArray(fc.integer({ min: 2, max: 900 }), { minLength: 1, maxLength: 8 })

function edit(design: Design, act: string, place: string, kind: (typeof KINDS)[number], by: 1 | -1): Edit | null {
  if (act === 'insert') return inserted(design, place, kind)
  if (act === 'move') return shifted(design, place, by)
  return act === 'split' ? split(design, place) : removed(design, place)
}

describe('pieces of a run', () => {
  it('keep what was measured of them through inserts, moves, splits, deletions, undo and redo', () => {
    fc.assert(
      fc.property(lengths, steps, (metres, wanted) => {
        let design = designOf(metres)
        const measured = new Map(metres.map((length_m, at) => [`c${at + 1}`, length_m]))
        const history = useHistory()
        for (const { act, at, kind, by } of wanted) {
          const ids = idsOf(design)
          if (act === 'undo' || act === 'redo') {
            const turned = (act === 'undo' ? history.back : history.forward)({ design, heading: HEADING })
            if (turned !== null) design = turned.design
          } else {
            const step = edit(design, act, ids[at % Math.max(1, ids.length)] ?? 'charger', kind, by)
            if (step === null) continue
            history.remember({ design, heading: HEADING }, '')
            design = changed(design, step.changes)
          }
          const now = idsOf(design)
          expect(new Set(now).size).toBe(now.length)
          for (const [path, word] of Object.entries(design.provenance ?? {})) {
            const id = path.split('.')[2] ?? ''
            expect(word).toBe('measured')
            expect(getAt(design, path), path).toBe(measured.get(id))
          }
          // Nothing measured is forgotten while its piece lies there as it was measured.
          for (const id of now) {
            const found = placed(design, id)
            const length_m = (found?.piece as { length_m?: number } | undefined)?.length_m
            if (found !== null && measured.has(id) && length_m === measured.get(id))
              expect(design.provenance?.[`${pathOf(found)}.length_m`]).toBe('measured')
          }
        }
      }),
      { numRuns: 300 },
    )
  })

  it('never have their identity given again after they are gone', () => {
    const before = designOf([4, 5])
    const gone = removed(before, 'c2')
    const after = changed(before, gone?.changes ?? [])
    const added = inserted(after, 'c1', 'cable')
    expect(added.place).not.toBe('c2')
    expect(changed(after, added.changes).provenance).not.toHaveProperty(`supply.pieces.${added.place}.length_m`)
  })
})

describe('paths', () => {
  it('lead into lists by identity, and by position where things have none', () => {
    const design = designOf([4, 5, 6])
    expect(getAt(design, 'supply.pieces.c2.length_m')).toBe(5)
    expect(getAt(design, 'supply.pieces.1.length_m')).toBe(5)
    expect(getAt(design, 'supply.pieces.c9.length_m')).toBeUndefined()
    const next = setAt(design, 'supply.pieces.c2.length_m', 7)
    expect(getAt(next, 'supply.pieces.c2.length_m')).toBe(7)
    expect(getAt(design, 'supply.pieces.c2.length_m')).toBe(5)
    expect(next.delivery).toBe(design.delivery)
  })

  it('name the same field whichever thing of its kind it is', () => {
    const design = designOf([4, 5])
    expect(patternOf(design, 'supply.pieces.c1.length_m')).toBe('run.pieces.cable.length_m')
    expect(patternOf({ activation: { start_rules: [{}] } }, 'activation.start_rules.0.at_least_v')).toBe(
      'activation.start_rules.*.at_least_v',
    )
  })
})
