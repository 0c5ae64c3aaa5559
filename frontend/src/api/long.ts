/** A long question that can be stopped: its share done, its answer, what went wrong. */
import { onScopeDispose, ref, shallowRef, type Ref, type ShallowRef } from 'vue'
import { Refused } from './client'
import { streamed } from './stream'
import type { EntryError } from './types'

export interface Long<T> {
  answer: ShallowRef<T | null>
  done: Ref<number | null>
  stopped: Ref<boolean>
  errors: Ref<EntryError[]>
  trouble: Ref<string>
  /** Ask; says whether an answer came, and not a refusal, a stop or another question. */
  ask: (path: string, body: unknown) => Promise<boolean>
  stop: () => void
}

/** Ask again and again; a new question ends the one before it. */
export function useLong<T>(): Long<T> {
  const answer = shallowRef<T | null>(null)
  const done = ref<number | null>(null)
  const stopped = ref(false)
  const errors = ref<EntryError[]>([])
  const trouble = ref('')
  let running: AbortController | null = null
  async function ask(path: string, body: unknown): Promise<boolean> {
    running?.abort()
    const mine = new AbortController()
    running = mine
    done.value = 0
    stopped.value = false
    try {
      const found = await streamed<T>(
        path,
        body,
        (share) => {
          if (running === mine) done.value = share
        },
        mine.signal,
      )
      if (running !== mine) return false
      answer.value = found
      errors.value = []
      trouble.value = ''
      return true
    } catch (error) {
      if (mine.signal.aborted) return false
      errors.value = error instanceof Refused ? (error.problem.errors ?? []) : []
      trouble.value = error instanceof Error ? error.message : 'It went wrong.'
      return false
    } finally {
      if (running === mine) {
        running = null
        done.value = null
      }
    }
  }
  function stop(): void {
    if (running === null) return
    running.abort()
    running = null
    done.value = null
    stopped.value = true
  }
  onScopeDispose(() => running?.abort())
  return { answer, done, stopped, errors, trouble, ask, stop }
}
