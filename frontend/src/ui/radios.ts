/** Keys of a group of radio buttons: the arrows move to the next and press it, the first is reached where none is on. */
export function walkRadios(event: KeyboardEvent): void {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key] ?? 0
  const from = (event.target as HTMLElement).closest<HTMLElement>('[role="radio"]')
  if (by === 0 || from === null) return
  const all = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role="radio"]')]
  const next = all[(all.indexOf(from) + by + all.length) % all.length]
  event.preventDefault()
  event.stopPropagation()
  next?.focus()
  next?.click()
}
