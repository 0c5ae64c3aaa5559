/** What a tap opens elsewhere on the page comes into sight: on a phone it is often a screen away. */
import { nextTick } from 'vue'

/** Scroll to what a selector names, once it stands there; it stays where it is while its upper part is in the window. */
export async function intoSight(selector: string): Promise<void> {
  await nextTick()
  const found = document.querySelector<HTMLElement>(selector)
  if (!found) return
  const { top } = found.getBoundingClientRect()
  if (top >= 0 && top < window.innerHeight / 2) return
  const calm = window.matchMedia('(prefers-reduced-motion: reduce)').matches
  found.scrollIntoView({ block: 'start', behavior: calm ? 'auto' : 'smooth' })
}
