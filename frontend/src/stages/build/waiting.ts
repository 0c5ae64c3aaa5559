/** What waits on this device to be sent: each change reads what stands there first, so that two tabs lose nothing. */
import { useEventListener } from '@vueuse/core'
import { ref, watch, type Ref } from 'vue'
import type { NewEntry } from '../../api/types'

/** An entry on its way; a photograph is made small on this device and kept as text until it is sent. */
export interface Waiting {
  entry: NewEntry
  picture?: string
}

export function useWaiting(key: () => string) {
  const list: Ref<Waiting[]> = ref([])
  function read(): Waiting[] {
    try {
      return JSON.parse(localStorage.getItem(key()) ?? '[]') as Waiting[]
    } catch {
      return []
    }
  }
  function write(now: Waiting[]): void {
    list.value = now
    try {
      localStorage.setItem(key(), JSON.stringify(now))
    } catch {
      // full: it is kept on this page alone, and sent from here
    }
  }
  /** What stands in the store, and what only this page holds. */
  function all(): Waiting[] {
    const stored = read()
    const known = new Set(stored.map((item) => item.entry.id))
    return [...stored, ...list.value.filter((item) => !known.has(item.entry.id) && unstored.has(item.entry.id))]
  }
  const unstored = new Set<string>()
  function add(item: Waiting): void {
    unstored.add(item.entry.id)
    write([...all(), item])
    if (read().some((kept) => kept.entry.id === item.entry.id)) unstored.delete(item.entry.id)
  }
  function drop(id: string): void {
    unstored.delete(id)
    write(all().filter((item) => item.entry.id !== id))
  }
  function look(): void {
    list.value = all()
  }
  useEventListener('storage', look)
  watch(key, look, { immediate: true })
  return { list, add, drop }
}
