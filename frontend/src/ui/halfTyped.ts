/** What is half typed in a form that is no part of a design: kept while this tab lives, over other pages and reloads. */
import { useSessionStorage } from '@vueuse/core'
import { toValue, type MaybeRefOrGetter, type Ref } from 'vue'

/** The entry of that name, or what it begins with; who uses it empties it when it has been taken. */
export function useHalfTyped<T extends string | object>(name: MaybeRefOrGetter<string>, start: T): Ref<T> {
  return useSessionStorage<T>(() => `olvask.typed.${toValue(name)}`, start, { writeDefaults: false }) as Ref<T>
}

/** Ask before an entry is sent: what it returns empties it once it was taken, but for what was typed meanwhile. */
export function emptying(entry: Ref<string>): () => void {
  const sent = entry.value
  return () => {
    if (entry.value === sent) entry.value = ''
  }
}
