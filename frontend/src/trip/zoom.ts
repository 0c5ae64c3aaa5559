/** The part of a trip that is shown: the whole, or closer. */
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'

const LEAST_S = 20

export interface Zoom {
  from: Ref<number>
  to: Ref<number>
  zoomed: ComputedRef<boolean>
  /** Show what lies between two times. */
  between: (one: number, other: number) => void
  /** Show more (above 1) or less (below 1) of the time around a moment. */
  around: (moment: number, factor: number) => void
  whole: () => void
}

/** Zoom over a trip of `seconds`; another length shows the whole again. */
export function useZoom(seconds: () => number): Zoom {
  const from = ref(0)
  const to = ref(seconds())
  function whole(): void {
    from.value = 0
    to.value = seconds()
  }
  function between(one: number, other: number): void {
    const wide = Math.min(seconds(), Math.max(LEAST_S, Math.abs(other - one)))
    from.value = Math.min(Math.max(0, Math.min(one, other)), seconds() - wide)
    to.value = from.value + wide
  }
  function around(moment: number, factor: number): void {
    const share = (moment - from.value) / Math.max(to.value - from.value, 1e-9)
    const wide = (to.value - from.value) * factor
    between(moment - share * wide, moment + (1 - share) * wide)
  }
  watch(seconds, whole)
  return { from, to, zoomed: computed(() => to.value - from.value < seconds() - 1e-6), between, around, whole }
}
