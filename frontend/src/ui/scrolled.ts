/**
 * A panel that scrolls is reached by the Tab key, also where nothing in it is: the arrow keys then move it (WCAG 2.2, 2.1.1).
 * Which ones scroll depends on the screen, on what is known of the job and on what is folded, so it is looked for as the page
 * comes to rest.
 */
const REACHED =
  'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), summary, [tabindex="0"]'
const REST_MS = 60

const scrolls = (panel: HTMLElement): boolean =>
  panel.scrollHeight > panel.clientHeight + 1 && /auto|scroll/.test(getComputedStyle(panel).overflowY)
const reached = (panel: HTMLElement): boolean =>
  [...panel.querySelectorAll(REACHED)].some((control) => control.checkVisibility())

function look(panel: HTMLElement): void {
  if (scrolls(panel) && !reached(panel)) panel.tabIndex = 0
  else if (panel !== document.activeElement) panel.removeAttribute('tabindex')
}

/** From now on every panel of a page that scrolls can be reached. */
export function reachScrolled(page: Document): void {
  let resting: ReturnType<typeof setTimeout> | undefined
  const known = new WeakSet<Element>() // to observe one again tells its size again, for ever
  const stirred = () => {
    clearTimeout(resting)
    resting = setTimeout(() => {
      for (const panel of page.querySelectorAll<HTMLElement>('.panel')) {
        if (!known.has(panel)) sized.observe(panel)
        known.add(panel)
        look(panel)
      }
    }, REST_MS)
  }
  const sized = new ResizeObserver(stirred)
  new MutationObserver(stirred).observe(page.body, { childList: true, subtree: true })
}
