/** What a vehicle's states and source are called: one with an engine idles, a hybrid or electric one is ready. */
import { computed } from 'vue'
import { useJob } from './store'

// What the words of a programme are of a hybrid or electric vehicle.
const SAID: Record<string, string> = {
  off: 'vehicle off',
  crank: 'made ready',
  idle: 'standing ready',
  cruise: 'driving',
  low: 'low phase',
}

export function useDrive() {
  const job = useJob()
  const ready = computed(() => job.judged?.vehicle.drive === 'converter')
  return {
    ready,
    off: computed(() => (ready.value ? 'vehicle off' : 'engine off')),
    /** What it does at a moment of the road test. */
    said: (engine: string, before = '') => (ready.value ? (SAID[engine] ?? engine) : `${before}${engine}`),
    running: computed(() => (ready.value ? 'while the vehicle is ready' : 'when the engine runs')),
    source: computed(() => (ready.value ? 'DC converter' : 'alternator')),
  }
}

/** The same words where they begin a heading. */
export const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1)
