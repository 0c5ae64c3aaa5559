/** What waits until something is on the screen. */
import { until } from '@vueuse/core'
import { ref, type Ref } from 'vue'

/** Comes once the next frame has been drawn. */
export const painted = (): Promise<void> =>
  new Promise((done) => {
    requestAnimationFrame(() => setTimeout(done))
  })

/** Whether what somebody came for stands on the screen: what takes long to make, and is used later, is made then. */
export function useStanding(come: () => boolean): Ref<boolean> {
  const stands = ref(false)
  void until(come)
    .toBe(true)
    .then(painted)
    .then(() => (stands.value = true))
  return stands
}
