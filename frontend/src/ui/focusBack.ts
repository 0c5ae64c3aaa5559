/** Where the focus goes when something that was opened closes: back to what opened it. */
import { watch, type Ref } from 'vue'

/** With `lost` only where it went nowhere: what closes may have put it elsewhere on purpose. */
export function useFocusBack(open: Ref<boolean>, lost = false): void {
  let opener: Element | null = null
  watch(
    open,
    (now) => {
      if (now) opener = document.activeElement
      else {
        const back = opener
        window.setTimeout(() => {
          if (lost && document.activeElement !== document.body) return
          if (back?.isConnected && (back instanceof HTMLElement || back instanceof SVGElement)) back.focus()
        })
      }
    },
    { flush: 'sync' },
  )
}
