/** Pressed twice is pressed once: a second tap of a cold thumb begins nothing, and goes to nothing that has just come under it. */
import { useTimeoutFn } from '@vueuse/core'
import { readonly, ref, watch, type Ref } from 'vue'

/**
 * An action that does not begin again while it is under way.
 *
 * @param work - What is done.
 * @returns The action, and whether it is under way.
 */
export function once<Given extends unknown[]>(
  work: (...given: Given) => Promise<void>,
): [run: (...given: Given) => Promise<void>, busy: Readonly<Ref<boolean>>] {
  const busy = ref(false)
  async function run(...given: Given): Promise<void> {
    if (busy.value) return
    busy.value = true
    try {
      await work(...given)
    } finally {
      busy.value = false
    }
  }
  return [run, readonly(busy)]
}

const SECOND_TAP_MS = 400 // what is tapped twice is tapped within a third of a second; our own estimate

/**
 * Whether something has only just taken the place of something else: a second tap was meant for what stood there before.
 *
 * @param what - What stands there.
 */
export function useJustChanged(what: () => unknown): Readonly<Ref<boolean>> {
  const { isPending, start } = useTimeoutFn(() => undefined, SECOND_TAP_MS, { immediate: false })
  watch(what, () => {
    start()
  })
  return isPending
}
