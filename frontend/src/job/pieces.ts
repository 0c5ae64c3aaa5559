/** Changes to the pieces of a run: step, insert, delete, split, move. A piece keeps its identity; the core judges. */
import type { Branch, Cable, Catalogue, Design, Device, Joint, Piece, RunName } from '../api/types'
import type { Change } from './change'

export type PieceKind = 'cable' | 'device' | 'joint' | 'branch'
export interface Placed {
  run: RunName
  index: number
  piece: Piece
}
/** Changes to make, and the identity that is in focus after them. */
export interface Edit {
  changes: Change[]
  place: string
}

const RUNS = ['supply', 'delivery'] as const
const LEAST_M = 0.1
const MOST_M = 60
const LETTER: Record<PieceKind, string> = { cable: 'c', device: 'd', joint: 'j', branch: 'b' }
const NEW: Record<PieceKind, object> = {
  cable: {
    kind: 'cable',
    size: '16 mm²',
    length_m: 1,
    metal: 'copper',
    insulation_c: 90,
    place: 'under_floor',
    ambient_c: null,
    grouped: 1,
    conduit: false,
    there: '',
    parallel: 1,
    strand: 'class_5',
  },
  device: { kind: 'device', family: 'class_t', rating_a: 60 },
  joint: { kind: 'joint', form: 'joint', name: 'joint', resistance_mohm: 0.2, rating_a: null, keyed: true },
  branch: {
    kind: 'branch',
    feeds: 'fan',
    name: 'fan',
    current_a: 1,
    size: '1.5 mm²',
    length_m: 1,
    insulation_c: 90,
    ambient_c: null,
    device: { kind: 'device', family: 'blade', rating_a: 5 },
  },
}

/** An identity nothing has had before: never one that was deleted, so that nothing attaches to the wrong thing. */
export function freshId(letter: string): string {
  const random = crypto.getRandomValues(new Uint32Array(1))[0] ?? 0
  return `${letter}${(random % 0x7fffffff).toString(36)}${Date.now().toString(36).slice(-3)}`
}

export function piecesOf(design: Design, run: RunName): Piece[] {
  return design[run]?.pieces ?? []
}

/** Run, position and piece of an identity; none where no piece has it. */
export function placed(design: Design | null, id: string): Placed | null {
  if (design === null) return null
  for (const run of RUNS) {
    const index = piecesOf(design, run).findIndex((piece) => piece.id === id)
    const piece = piecesOf(design, run)[index]
    if (piece !== undefined) return { run, index, piece }
  }
  return null
}

/** The place on the line where something about `place` is shown: the way back of a run stands at its first piece. */
export function shownAt(design: Design | null, place: string): string {
  const run = RUNS.find((item) => place === `${item}.back` || place === item)
  return run === undefined || design === null ? place : (piecesOf(design, run)[0]?.id ?? 'charger')
}

/** Every place on the line in its order. */
export function placesOf(design: Design | null): string[] {
  const ids = (run: RunName) => (design === null ? [] : piecesOf(design, run).map((piece) => piece.id ?? ''))
  return ['alternator', 'start_battery', ...ids('supply'), 'charger', ...ids('delivery'), 'auxiliary']
}

/** The path of a piece in the design. */
export function pathOf(at: Placed): string {
  return `${at.run}.pieces.${at.piece.id}`
}

/** The change that moves what stands at `place` to its next size or rating; none at either end. */
export function stepped(design: Design, catalogue: Catalogue, place: string, by: number): Change[] {
  const at = placed(design, place)
  if (at === null) return []
  const path = pathOf(at)
  if (at.piece.kind === 'cable' || at.piece.kind === 'branch') {
    const sizes = catalogue.sizes.map((item) => item.size)
    const next = sizes[sizes.indexOf((at.piece as Cable | Branch).size ?? '1.5 mm²') + by]
    return next === undefined ? [] : [{ path: `${path}.size`, value: next }]
  }
  if (at.piece.kind === 'device') {
    const device = at.piece as Device
    const ratings = catalogue.families.find((item) => item.family === device.family)?.ratings_a ?? []
    const next = ratings[ratings.indexOf(device.rating_a) + by]
    return next === undefined ? [] : [{ path: `${path}.rating_a`, value: next }]
  }
  const ohm = (at.piece as Joint).resistance_mohm ?? 0.2
  return [{ path: `${path}.resistance_mohm`, value: Math.max(0, Math.round((ohm + by * 0.1) * 10) / 10) }]
}

/** Where a new piece goes when `place` is in focus: after that piece, or at the end of a run beside a station. */
function after(design: Design, place: string): { run: RunName; index: number } {
  const at = placed(design, place)
  if (at !== null) return { run: at.run, index: at.index }
  if (place === 'charger') return { run: 'delivery', index: -1 }
  if (place === 'auxiliary') return { run: 'delivery', index: piecesOf(design, 'delivery').length - 1 }
  return { run: 'supply', index: -1 }
}

function laid(run: RunName, pieces: Piece[], place: string): Edit {
  return { changes: [{ path: `${run}.pieces`, value: pieces }], place }
}

/** Insert a new piece after `place`; a cable is laid like the one it follows, under an identity of its own. */
export function inserted(design: Design, place: string, kind: PieceKind): Edit {
  const at = after(design, place)
  const pieces = [...piecesOf(design, at.run)]
  const before = pieces[at.index]
  const id = freshId(LETTER[kind])
  const piece = { ...(kind === 'cable' && before?.kind === 'cable' ? before : NEW[kind]), id } as Piece
  pieces.splice(at.index + 1, 0, piece)
  return laid(at.run, pieces, id)
}

/** Take the piece at `place` out. */
export function removed(design: Design, place: string): Edit | null {
  const at = placed(design, place)
  if (at === null) return null
  const pieces = piecesOf(design, at.run).filter((piece) => piece.id !== at.piece.id)
  return laid(at.run, pieces, pieces[Math.min(at.index, pieces.length - 1)]?.id ?? 'charger')
}

/** Cut the cable at `place` in two with a joint between; the first half keeps the identity. */
export function split(design: Design, place: string): Edit | null {
  const at = placed(design, place)
  if (at === null || at.piece.kind !== 'cable') return null
  const cable = at.piece as Cable
  const half = Math.round(cable.length_m * 50) / 100
  const rest = Math.round((cable.length_m - half) * 100) / 100
  if (!(half > 0 && rest > 0)) return null
  const joint = { ...NEW.joint, id: freshId('j') } as Piece
  const other = { ...cable, id: freshId('c'), length_m: rest } as Piece
  const pieces = [...piecesOf(design, at.run)]
  pieces.splice(at.index, 1, { ...cable, length_m: half } as Piece, joint, other)
  return laid(at.run, pieces, joint.id ?? 'charger')
}

/** Move the piece at `place` one position along its run. */
export function shifted(design: Design, place: string, by: 1 | -1): Edit | null {
  const at = placed(design, place)
  if (at === null) return null
  const pieces = [...piecesOf(design, at.run)]
  const other = pieces[at.index + by]
  if (other === undefined) return null
  pieces[at.index] = other
  pieces[at.index + by] = at.piece
  return laid(at.run, pieces, place)
}

/** Make the cable at `place` longer or shorter, never under a decimetre. */
export function stretched(design: Design, place: string, metres: number): Change[] {
  const at = placed(design, place)
  if (at === null || (at.piece.kind !== 'cable' && at.piece.kind !== 'branch')) return []
  const now = Number((at.piece as Cable).length_m)
  if (!Number.isFinite(now)) return []
  const wanted = Math.min(MOST_M, Math.max(LEAST_M, Math.round((now + metres) * 10) / 10))
  return [{ path: `${pathOf(at)}.length_m`, value: wanted }]
}
