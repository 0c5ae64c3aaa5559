/** Work over the whole yard, told job by job as it goes. */
import { onBeforeUnmount, ref, type Ref } from 'vue'
import { whyOf } from '../api/client'
import { told } from '../api/stream'

/** What every line of it has. */
export interface YardLine {
  done: number
  trouble: string
  job: number | null
  title: string
  code: string
  unreadable: boolean
}
const MOST = 200

/** Runs one piece of work at a time; a new one, or leaving the page, ends the one before. */
export function useYardWork<Line extends YardLine>(path: string) {
  const found = ref([]) as Ref<Line[]>
  const done = ref(1)
  const trouble = ref('')
  let current: AbortController | null = null

  function stop(): void {
    current?.abort()
  }
  async function run(asked: object): Promise<void> {
    stop()
    const mine = new AbortController()
    current = mine
    found.value = []
    trouble.value = ''
    done.value = 0
    try {
      for await (const line of told<Line>(path, asked, mine.signal)) {
        done.value = line.done
        if (line.trouble !== '') trouble.value = `It cannot go on: ${line.trouble}.`
        if (line.job !== null && found.value.length < MOST) found.value = [...found.value, line]
      }
    } catch (error) {
      if (!mine.signal.aborted) trouble.value = whyOf(error, 'The server does not answer; ask again.')
    }
    if (current === mine) done.value = 1
  }
  onBeforeUnmount(stop)
  return { found, done, trouble, run, stop }
}
