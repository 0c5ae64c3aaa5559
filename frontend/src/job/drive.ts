/** What a vehicle's states and source are called: one with an engine idles, a hybrid or electric one is ready. */
import { computed } from 'vue'
import { useJob } from './store'

export function useDrive() {
  const job = useJob()
  const ready = computed(() => job.judged?.vehicle.drive === 'converter')
  return {
    ready,
    off: computed(() => (ready.value ? 'vehicle off' : 'engine off')),
    source: computed(() => (ready.value ? 'DC converter' : 'alternator')),
  }
}

/** The same words where they begin a heading. */
export const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1)
