/** Pointing at a moment of a trip: by pointer, by key, and dragging across it to look closer. */
import { computed, ref, type ComputedRef, type Ref } from 'vue'
import type { Trip } from '../api/types'

export interface View {
  from: Ref<number> | ComputedRef<number>
  to: Ref<number> | ComputedRef<number>
  between: (one: number, other: number) => void
  around: (seconds: number, factor: number) => void
  whole: () => void
  /** The time under a place across the picture [s]. */
  timeAt: (across: number) => number
  /** Where a time stands across the picture. */
  x: (seconds: number) => number
}

/** `at` is the sample pointed at; none where it is null. */
export function usePointing(trip: () => Trip, at: Ref<number | null>, view: View) {
  const cursor = computed(() => (at.value === null ? null : (trip().series.time_s[at.value] ?? null)))
  const held = ref<number | null>(null) // where a drag to zoom began
  const taken = computed(() =>
    held.value === null || cursor.value === null
      ? null
      : ([Math.min(held.value, cursor.value), Math.max(held.value, cursor.value)] as const),
  )
  function move(event: PointerEvent): void {
    const seconds = view.timeAt(event.offsetX)
    const times = trip().series.time_s
    let low = 0
    let high = times.length - 1
    while (low < high) {
      const middle = Math.ceil((low + high) / 2)
      if ((times[middle] ?? 0) <= seconds) low = middle
      else high = middle - 1
    }
    at.value = low
  }
  function press(event: PointerEvent): void {
    if (event.pointerType === 'mouse') held.value = view.timeAt(event.offsetX)
  }
  function release(event: PointerEvent): void {
    if (held.value !== null && Math.abs(view.x(held.value) - event.offsetX) > 8)
      view.between(held.value, view.timeAt(event.offsetX))
    held.value = null
  }
  const closer = (factor: number) => view.around(cursor.value ?? (view.from.value + view.to.value) / 2, factor)
  function walk(event: KeyboardEvent): void {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    const zoom = { '+': 0.5, '-': 2, 0: Infinity }[event.key]
    if (by === undefined && zoom === undefined) return
    event.preventDefault()
    event.stopPropagation()
    if (zoom !== undefined) {
      if (zoom === Infinity) view.whole()
      else closer(zoom)
    }
    if (by === undefined) return
    at.value = Math.min(trip().series.time_s.length - 1, Math.max(0, (at.value ?? 0) + by * (event.shiftKey ? 10 : 1)))
    const seconds = trip().series.time_s[at.value] ?? 0
    if (seconds < view.from.value || seconds > view.to.value)
      view.between(seconds - (view.to.value - view.from.value) / 2, seconds + (view.to.value - view.from.value) / 2)
  }
  function leave(): void {
    at.value = null
    held.value = null
  }
  return { cursor, taken, move, press, release, leave, walk, closer }
}
