/** Changes to the pieces of a run: step, insert, delete. Order comes from the catalogue, judgement from the core. */
import type { Branch, Cable, Catalogue, Design, Device, Piece, RunName } from '../api/types'
import type { Change } from './store'

export function piecesOf(design: Design, run: RunName): Piece[] {
  return design[run]?.pieces ?? []
}

export function placed(place: string): { run: RunName; index: number } | null {
  const [run, index] = place.split('.')
  return (run === 'supply' || run === 'delivery') && index !== undefined && /^\d+$/.test(index) ? { run, index: Number(index) } : null
}

/** The change that moves what stands at `place` to its next size, rating or unit; none at either end. */
export function stepped(design: Design, catalogue: Catalogue, place: string, by: 1 | -1): Change[] {
  if (place === 'charger') return steppedUnit(design, catalogue, by)
  const at = placed(place)
  const piece = at && piecesOf(design, at.run)[at.index]
  if (at === null || piece === null || piece === undefined) return []
  const path = `${at.run}.pieces.${at.index}`
  if (piece.kind === 'cable') {
    const sizes = catalogue.sizes.map((item) => item.size)
    const next = sizes[sizes.indexOf((piece as Cable).size) + by]
    return next === undefined ? [] : [{ path: `${path}.size`, value: next }]
  }
  if (piece.kind === 'device') {
    const device = piece as Device
    const ratings = catalogue.families.find((item) => item.family === device.family)?.ratings_a ?? []
    const next = ratings[ratings.indexOf(device.rating_a ?? 0) + by]
    return next === undefined ? [] : [{ path: `${path}.rating_a`, value: next }]
  }
  if (piece.kind === 'branch') {
    const sizes = catalogue.sizes.map((item) => item.size)
    const next = sizes[sizes.indexOf((piece as Branch).size ?? '1.5 mm²') + by]
    return next === undefined ? [] : [{ path: `${path}.size`, value: next }]
  }
  const ohm = (piece as { resistance_mohm?: number }).resistance_mohm ?? 0.2
  return [{ path: `${path}.resistance_mohm`, value: Math.max(0, Math.round((ohm + by * 0.1) * 10) / 10) }]
}

function steppedUnit(design: Design, catalogue: Catalogue, by: 1 | -1): Change[] {
  const fitting = catalogue.chargers.filter(
    (item) => item.input_nominal_v === (design.vehicle.system_v ?? 12) && item.output_nominal_v === (design.auxiliary?.nominal_v ?? 12),
  )
  const at = fitting.findIndex((item) => item.id === design.charger?.id)
  const next = fitting[at === -1 ? 0 : at + by]
  return next === undefined ? [] : [{ path: 'charger', value: next }, { path: 'current_limit_a', value: null }]
}

export type PieceKind = 'cable' | 'device' | 'joint' | 'branch'
const NEW: Record<PieceKind, Piece> = {
  cable: { kind: 'cable', size: '16 mm²', length_m: 1, metal: 'copper', insulation_c: 90, place: 'under_floor', ambient_c: null, grouped: 1, conduit: false, parallel: 1, strand: 'class_5' },
  device: { kind: 'device', family: 'class_t', rating_a: 60 },
  joint: { kind: 'joint', form: 'joint', name: 'joint', resistance_mohm: 0.2, rating_a: null, keyed: true },
  branch: { kind: 'branch', feeds: 'fan', name: 'fan', current_a: 1, size: '1.5 mm²', length_m: 1, insulation_c: 90, ambient_c: null, device: { kind: 'device', family: 'blade', rating_a: 5 } },
}

/** Insert a new piece after `place`; a cable copies the one it follows. Returns the change and where it lands. */
export function inserted(design: Design, place: string, kind: PieceKind): { changes: Change[]; place: string } {
  const at = placed(place) ?? (place === 'charger' ? { run: 'delivery' as const, index: -1 } : place === 'auxiliary' ? { run: 'delivery' as const, index: piecesOf(design, 'delivery').length - 1 } : { run: 'supply' as const, index: -1 })
  const pieces = [...piecesOf(design, at.run)]
  const before = pieces[at.index]
  const piece = kind === 'cable' && before?.kind === 'cable' ? { ...before } : NEW[kind]
  pieces.splice(at.index + 1, 0, piece)
  return { changes: [{ path: `${at.run}.pieces`, value: pieces }], place: `${at.run}.${at.index + 1}` }
}

/** Take the piece at `place` out. */
export function removed(design: Design, place: string): { changes: Change[]; place: string } | null {
  const at = placed(place)
  if (at === null) return null
  const pieces = piecesOf(design, at.run).filter((_, index) => index !== at.index)
  const stay = pieces.length === 0 ? 'charger' : `${at.run}.${Math.min(at.index, pieces.length - 1)}`
  return { changes: [{ path: `${at.run}.pieces`, value: pieces }], place: stay }
}

/** Cut the cable at `place` in two with a joint between. */
export function split(design: Design, place: string): { changes: Change[]; place: string } | null {
  const at = placed(place)
  const pieces = at === null ? [] : [...piecesOf(design, at.run)]
  const piece = at === null ? undefined : pieces[at.index]
  if (at === null || piece?.kind !== 'cable') return null
  const half = Math.round((piece as Cable).length_m * 50) / 100
  const rest = Math.round(((piece as Cable).length_m - half) * 100) / 100
  if (!(half > 0 && rest > 0)) return null
  pieces.splice(at.index, 1, { ...piece, length_m: half } as Piece, NEW.joint, { ...piece, length_m: rest } as Piece)
  return { changes: [{ path: `${at.run}.pieces`, value: pieces }], place: `${at.run}.${at.index + 1}` }
}

/** Move the piece at `place` one position along its run. */
export function shifted(design: Design, place: string, by: 1 | -1): { changes: Change[]; place: string } | null {
  const at = placed(place)
  if (at === null) return null
  const pieces = [...piecesOf(design, at.run)]
  const other = pieces[at.index + by]
  const own = pieces[at.index]
  if (other === undefined || own === undefined) return null
  pieces[at.index] = other
  pieces[at.index + by] = own
  return { changes: [{ path: `${at.run}.pieces`, value: pieces }], place: `${at.run}.${at.index + by}` }
}

/** Make the cable at `place` longer or shorter, never under a decimetre. */
export function stretched(design: Design, place: string, metres: number): Change[] {
  const at = placed(place)
  const piece = at === null ? undefined : piecesOf(design, at.run)[at.index]
  if (at === null || (piece?.kind !== 'cable' && piece?.kind !== 'branch')) return []
  const now = Number((piece as Cable).length_m)
  if (!Number.isFinite(now)) return []
  return [{ path: `${at.run}.pieces.${at.index}.length_m`, value: Math.min(60, Math.max(0.1, Math.round((now + metres) * 10) / 10)) }]
}
