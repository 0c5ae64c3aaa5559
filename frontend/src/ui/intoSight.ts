/** What a tap opens elsewhere on the page comes into sight: on a phone it is often a screen away. */
import { nextTick } from 'vue'

/** What scrolls around an element; `null` where nothing does, as on a page that fits its window. */
function scrollerOf(element: HTMLElement): Element | null {
  for (let at = element.parentElement; at; at = at.parentElement) {
    const page = at === document.documentElement
    const moves = page || /auto|scroll/.test(getComputedStyle(at).overflowY)
    if (moves && at.scrollHeight > at.clientHeight + 1) return at
  }
  return null
}

/** Scroll to what a selector names, once it stands there; it stays where it is while its upper part is in sight. */
export async function intoSight(selector: string): Promise<void> {
  await nextTick()
  const found = document.querySelector<HTMLElement>(selector)
  const scroller = found && scrollerOf(found)
  if (!found || !scroller) return
  const page = scroller === document.documentElement
  const top = found.getBoundingClientRect().top - (page ? 0 : scroller.getBoundingClientRect().top)
  if (top >= 0 && top < scroller.clientHeight / 2) return
  const calm = window.matchMedia('(prefers-reduced-motion: reduce)').matches
  scroller.scrollBy({ top, behavior: calm ? 'auto' : 'smooth' })
}
