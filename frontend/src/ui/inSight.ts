/** A strip that is wider than the window shows what is open in it. */
import { useResizeObserver } from '@vueuse/core'
import { watch, type Ref } from 'vue'

/** Scroll `strip` so that what is `open` in it, a selector, stands in the middle, whenever `changes` or its width does. */
export function useInSight(strip: Readonly<Ref<HTMLElement | null>>, open: string, changes: () => unknown): void {
  function show(): void {
    const [frame, at] = [strip.value, strip.value?.querySelector<HTMLElement>(open)]
    if (!frame || !at || frame.scrollWidth <= frame.clientWidth) return
    const from = at.getBoundingClientRect().left - frame.getBoundingClientRect().left + frame.scrollLeft
    frame.scrollLeft = from + at.offsetWidth / 2 - frame.clientWidth / 2
  }
  watch([strip, changes], show, { flush: 'post' })
  useResizeObserver(strip, show)
}
