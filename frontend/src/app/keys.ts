/** The keyboard of the job screen. Keys typed into a field stay with the field. */
import { useEventListener } from '@vueuse/core'
import type { PieceKind } from '../job/pieces'

export interface KeyActions {
  walk: (by: 1 | -1) => void
  step: (by: 1 | -1) => void
  enter: () => void
  escape: () => void
  insert: (kind: PieceKind) => void
  split: () => void
  shift: (by: 1 | -1) => void
  stretch: (metres: number) => void
  remove: () => void
  stage: (number: number) => void
  condition: () => void
  working: () => void
  undo: () => void
  redo: () => void
  night: () => void
  help: () => void
  fold: () => void
  foldFindings: () => void
}

function typing(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false
  return (
    target.matches('input, textarea, select, [contenteditable], [role=combobox], [role=spinbutton]') ||
    target.closest('[role=dialog], .p-select-overlay, .p-selectbutton') !== null
  )
}

/** Listen while the calling component is mounted. */
export function useKeys(actions: KeyActions): void {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (event.defaultPrevented) return
    const mark = event.key.toLowerCase()
    if ((event.ctrlKey || event.metaKey) && mark === 'z') {
      event.preventDefault()
      if (event.shiftKey) actions.redo()
      else actions.undo()
      return
    }
    if (event.key === 'Escape' && !(event.target instanceof HTMLElement && event.target.closest('[role=dialog]'))) {
      actions.escape()
      return
    }
    if (
      event.altKey &&
      !event.ctrlKey &&
      (event.key === 'ArrowLeft' || event.key === 'ArrowRight') &&
      !typing(event.target)
    ) {
      event.preventDefault()
      actions.shift(event.key === 'ArrowRight' ? 1 : -1)
      return
    }
    if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return
    const onLine = event.target instanceof Element && event.target.closest('[role=listbox]') !== null
    const action: (() => void) | undefined = {
      ArrowLeft: () => {
        actions.walk(-1)
      },
      ArrowRight: () => {
        actions.walk(1)
      },
      ArrowUp: () => {
        actions.step(1)
      },
      ArrowDown: () => {
        actions.step(-1)
      },
      Enter: onLine ? actions.enter : undefined,
      Insert: () => {
        actions.insert('cable')
      },
      d: () => {
        actions.insert('device')
      },
      j: () => {
        actions.insert('joint')
      },
      b: () => {
        actions.insert('branch')
      },
      s: actions.split,
      '.': () => {
        actions.stretch(0.1)
      },
      ',': () => {
        actions.stretch(-0.1)
      },
      '>': () => {
        actions.stretch(1)
      },
      '<': () => {
        actions.stretch(-1)
      },
      Delete: actions.remove,
      c: actions.condition,
      w: actions.working,
      n: actions.night,
      l: actions.fold,
      f: actions.foldFindings,
      '?': actions.help,
    }[event.key.length === 1 ? mark : event.key]
    if (action === undefined && /^[1-8]$/.test(event.key)) {
      event.preventDefault()
      actions.stage(Number(event.key))
    } else if (action !== undefined) {
      event.preventDefault()
      action()
    }
  })
}
