/** What waits on this device to be sent: each change reads what stands there first, so that two tabs lose nothing. */
import { useEventListener } from '@vueuse/core'
import { ref, watch, type Ref } from 'vue'
import type { NewEntry } from '../../api/types'

/** An entry on its way; a photograph is made small on this device and kept as text until it is sent. */
export interface Waiting {
  entry: NewEntry
  picture?: string
  /** What the screen calls the step or test, for what may have to be said of it. */
  called?: string
}

export function useWaiting(key: () => string) {
  const list: Ref<Waiting[]> = ref([])
  const unstored = new Set<string>()
  const sent = new Set<string>() // on a device that is full it may still stand in the store
  const full = ref(0)
  function read(): Waiting[] {
    try {
      const stored = JSON.parse(localStorage.getItem(key()) ?? '[]') as Waiting[]
      return stored.filter((item) => !sent.has(item.entry.id))
    } catch {
      return []
    }
  }
  function stored(items: readonly Waiting[]): boolean {
    try {
      localStorage.setItem(key(), JSON.stringify(items))
      return true
    } catch {
      return false
    }
  }
  /** All of it where there is room; else what stood there already, and the rest on this page alone. */
  function write(now: Waiting[]): void {
    list.value = now
    if (!stored(now)) stored(now.filter((item) => !unstored.has(item.entry.id)))
  }
  /** What stands in the store, and what only this page holds. */
  function all(): Waiting[] {
    const stored = read()
    const known = new Set(stored.map((item) => item.entry.id))
    return [...stored, ...list.value.filter((item) => !known.has(item.entry.id) && unstored.has(item.entry.id))]
  }
  function add(item: Waiting): void {
    unstored.add(item.entry.id)
    write([...all(), item])
    settle()
  }
  /** Whether what only this page held has found room by now. */
  function settle(): void {
    const stored = new Set(read().map((kept) => kept.entry.id))
    for (const id of unstored) if (stored.has(id)) unstored.delete(id)
    full.value = unstored.size
  }
  function drop(id: string): void {
    unstored.delete(id)
    sent.add(id)
    write(all().filter((item) => item.entry.id !== id))
    settle()
  }
  function look(): void {
    list.value = all()
  }
  useEventListener('storage', look)
  watch(key, look, { immediate: true })
  // Whoever leaves would lose what only this page holds: the browser asks first.
  useEventListener(window, 'beforeunload', (event: BeforeUnloadEvent) => {
    if (unstored.size > 0) event.preventDefault()
  })
  return { list, add, drop, full }
}
