/** A job kept on this device for today: every question that is asked at the vehicle, asked now and its answer held. */
import { ref, type Ref } from 'vue'
import type { components } from '../api/schema.gen'
import type { Design } from '../api/types'
import { heldFetch } from './held'

type Readings = components['schemas']['ProveIn']['readings']

type Ask = () => Promise<Response>
const get =
  (address: string): Ask =>
  () =>
    heldFetch(new Request(address), true)
const post =
  (address: string, body: unknown): Ask =>
  () =>
    heldFetch(
      new Request(address, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      }),
      true,
    )

/** Everything the screens at the vehicle ask of a job, in the very words in which they ask it. */
export function questionsOf(job: number, design: Design, readings: Readings): Ask[] {
  const own = `/api/jobs/${String(job)}`
  return [
    get(own),
    ...['build', 'logbook', 'signing', 'build/left', 'shelved', 'revisions', 'options', 'quotes'].map((name) =>
      get(`${own}/${name}`),
    ),
    ...['house', 'catalogue', 'instruments', 'programmes'].map((name) => get(`/api/${name}`)),
    get('/api/jobs?sought=&stands=&order=saved&begin=0&rows=50'),
    ...['assess', 'remedies', 'build/procedure', 'build/diagram', 'build/mount', 'buying', 'figures', 'methods'].map(
      (name) => post(`/api/${name}`, design),
    ),
    post('/api/prove', { design, readings }),
    post('/api/settings/sheet', { device: '', design }),
    ...['sheet.pdf', 'settings.pdf', 'diagram-a4.pdf'].map((name) => get(`${own}/${name}`)),
  ]
}

const PATIENCE = 5
/** An answer, a refusal among them; one that is too busy is asked again, and in the end it has none. */
async function answeredBy(ask: Ask): Promise<void> {
  for (let time = 0; time < PATIENCE; time += 1) {
    if ((await ask()).status < 500) return
    await new Promise((done) => setTimeout(done, 500 * (time + 1)))
  }
  throw new Error('busy')
}

export interface Keeping {
  done: Ref<number>
  trouble: Ref<string>
  keep: (questions: readonly Ask[]) => Promise<boolean>
  stop: () => void
}

/** Ask them one after another; a refusal of one is an answer too, and no reason to hold nothing. */
export function useKeeping(): Keeping {
  const done = ref(1)
  const trouble = ref('')
  let stopped = false
  async function keep(questions: readonly Ask[]): Promise<boolean> {
    trouble.value = ''
    done.value = 0
    stopped = false
    try {
      for (const [at, ask] of questions.entries()) {
        if (stopped) return false
        await answeredBy(ask)
        done.value = (at + 1) / questions.length
      }
      return true
    } catch (error) {
      const full = error instanceof DOMException && error.name === 'QuotaExceededError'
      const why = full ? 'This device has no more room' : 'The server does not answer'
      trouble.value = `${why}; not all of it is held here yet.`
      return false
    } finally {
      done.value = 1
    }
  }
  const stop = () => {
    stopped = true
  }
  return { done, trouble, keep, stop }
}
