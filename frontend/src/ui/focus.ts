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
