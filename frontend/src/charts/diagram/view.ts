/** The part of the drawing that is seen: the whole, closer, moved. */
import { computed, ref, watch } from 'vue'

const CLOSEST = 8

/** `wide`, `tall`: of the drawing; `aspect`: of the place it is seen in, wide over tall. */
export function useView(wide: () => number, tall: () => number, aspect: () => number) {
  /** The drawing with the room that its place has beside it. */
  const width = () => Math.max(wide(), tall() * aspect())
  const height = () => Math.max(tall(), wide() / aspect())
  const scale = ref(1)
  const x = ref(0)
  const y = ref(0)
  const box = computed(
    () => `${String(x.value)} ${String(y.value)} ${String(width() / scale.value)} ${String(height() / scale.value)}`,
  )
  function held(): void {
    const [left, top] = [(wide() - width()) / 2, (tall() - height()) / 2]
    x.value = Math.min(Math.max(x.value, left), left + width() - width() / scale.value)
    y.value = Math.min(Math.max(y.value, top), top + height() - height() / scale.value)
  }
  /** Closer (above 1) or farther (below 1) around a place of the drawing given as shares of what is seen. */
  function zoom(factor: number, shareX = 0.5, shareY = 0.5): void {
    const next = Math.min(CLOSEST, Math.max(1, scale.value * factor))
    x.value += shareX * (width() / scale.value - width() / next)
    y.value += shareY * (height() / scale.value - height() / next)
    scale.value = next
    held()
  }
  /** Move by shares of what is seen. */
  function move(shareX: number, shareY: number): void {
    x.value += (shareX * width()) / scale.value
    y.value += (shareY * height()) / scale.value
    held()
  }
  function whole(): void {
    scale.value = 1
    held()
  }
  /** Show a place of the drawing in the middle, at so many times its whole. */
  function centre(atX: number, atY: number, factor: number): void {
    scale.value = Math.min(CLOSEST, Math.max(1, factor))
    x.value = atX - width() / scale.value / 2
    y.value = atY - height() / scale.value / 2
    held()
  }
  watch([wide, tall, aspect], whole, { immediate: true })
  return { box, scale, zoom, move, whole, centre, width }
}
