/** Putting the focus on what is only about to be drawn. */
const PATIENCE = 120 // frames: a page that is fetched first may take that long

/** Focus what a selector finds, as soon as it stands in the page. */
export async function focusWhenThere(selector: string): Promise<void> {
  for (let frame = 0; frame < PATIENCE; frame += 1) {
    const found = document.querySelector<HTMLElement>(selector)
    if (found !== null) {
      found.focus()
      return
    }
    await new Promise((drawn) => requestAnimationFrame(drawn))
  }
}

/**
 * Bring the first entry of a form that was refused into sight, with the focus where it takes it. Who was typing in another
 * entry goes on there, as long as that first one is in sight.
 */
export function focusFault(form: string, at: HTMLElement | null = null): void {
  const [fault, told] = [`${form} [aria-invalid="true"]`, `${form} .error`].map((one) =>
    document.querySelector<HTMLElement>(one),
  )
  const typing = at?.matches('input, textarea, [role=combobox]') === true
  if (fault && !(typing && seen(fault))) fault.focus()
  else if (!fault && told && !seen(told)) told.scrollIntoView({ block: 'center' })
  else at?.focus()
}

function seen(item: HTMLElement): boolean {
  const box = item.getBoundingClientRect()
  const hit = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2)
  return hit !== null && item.contains(hit)
}
