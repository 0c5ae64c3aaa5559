/** The state of a step with an entry on top that the server does not have yet. */
import type { NewEntry, StepState } from '../../api/types'

export function overlaid(states: Map<string, StepState>, entry: NewEntry): void {
  const key = `${entry.procedure ?? 'Build'}|${entry.step}`
  const was = states.get(key)
  if (was?.entries.some((item) => item.id === entry.id)) return
  const now: StepState = {
    procedure: entry.procedure ?? 'Build',
    step: entry.step,
    state: was?.state ?? 'open',
    by: was?.by ?? [],
    at: was?.at ?? null,
    reason: was?.reason ?? '',
    accounts: entry.kind === 'photo' || entry.kind === 'note' ? (was?.accounts ?? []) : [],
    entries: [...(was?.entries ?? []), { ...entry } as StepState['entries'][number]],
  }
  if (entry.kind === 'open') Object.assign(now, { state: 'open', by: [], at: null, reason: '' })
  if (entry.kind === 'done' || entry.kind === 'skip') {
    const by = entry.by ?? ''
    now.state = entry.kind === 'done' ? 'done' : 'skipped'
    now.by = by === '' || now.by.includes(by) ? now.by : [...now.by, by]
    now.at = entry.at
    now.reason = entry.kind === 'skip' ? (entry.text ?? '') : ''
  }
  states.set(key, now)
}
