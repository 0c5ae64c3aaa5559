/** Where the focus goes when something that was opened closes: back to what opened it. */
import { watch, type Ref } from 'vue'

export function useFocusBack(open: Ref<boolean>): void {
  let opener: Element | null = null
  watch(
    open,
    (now) => {
      if (now) opener = document.activeElement
      else {
        const back = opener
        window.setTimeout(() => {
          if (back?.isConnected && (back instanceof HTMLElement || back instanceof SVGElement)) back.focus()
        })
      }
    },
    { flush: 'sync' },
  )
}
