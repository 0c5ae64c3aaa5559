/** What is noted at the steps: kept on this device until the server has it, and never overwritten by another's. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useEventListener, useIntervalFn, useSessionStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answered, client, Refused, whyOf } from '../../api/client'
import { notedAt } from '../../api/clock'
import type { NewEntry, StepState } from '../../api/types'
import { HOW_FAR } from '../../job/howFar'
import { useJob } from '../../job/store'
import { identity } from '../../ui/identity'
import { initials } from '../settings/keyed'
import { overlaid } from './overlay'
import { useWaiting, type Waiting } from './waiting'

const LOOK_MS = 4000

/** What is noted, and what the screen calls the step or test it is noted of. */
type Noting = Partial<NewEntry> & { called?: string }
const KIND: Partial<Record<NewEntry['kind'], string>> = { reading: 'reading', photo: 'photograph' }

export function useBuildLog() {
  const job = useJob()
  const mine = job.wanted // what is noted late, such as a photograph, goes to the job it was noted in
  const kept = useWaiting(() => `olvask.build.${String(mine)}`)
  const waiting = kept.list
  const refused = useSessionStorage<string[]>(`olvask.build.refused.${String(mine)}`, [])
  const away = ref(false)
  const { data, refetch } = useQuery({
    queryKey: ['build-log', mine],
    queryFn: () => answered(client.GET('/api/jobs/{job_id}/build', { params: { path: { job_id: mine } } })),
    enabled: mine > 0,
    refetchInterval: LOOK_MS,
    retry: false,
  })
  const queries = useQueryClient()
  watch(data, (_, before) => {
    if (before) void queries.invalidateQueries({ queryKey: [HOW_FAR, mine] })
  })
  /** As the server has it: without what still waits here. */
  const served = computed(
    () => new Map((data.value?.steps ?? []).map((state) => [`${state.procedure}|${state.step}`, state])),
  )
  const states = computed(() => {
    const found = new Map<string, StepState>(served.value)
    for (const { entry } of waiting.value) overlaid(found, entry)
    return found
  })
  const of = (procedure: string, step: string) => states.value.get(`${procedure}|${step}`)

  function note(procedure: string, step: string, kind: NewEntry['kind'], said: Noting = {}, picture = '') {
    const { called = '', ...more } = said
    const entry: NewEntry = {
      id: identity(),
      procedure,
      step,
      kind,
      text: '',
      value: null,
      unit: '',
      photo: '',
      by: initials.value.trim(),
      at: notedAt(),
      ...more,
    }
    kept.add(picture === '' ? { entry, called } : { entry, picture, called })
    void send()
  }

  let sending = false
  /** Hand over what waits, oldest first; what the server refuses for good is said and let go. */
  async function send(): Promise<void> {
    if (sending) return
    sending = true
    try {
      for (let next = waiting.value[0]; next; next = waiting.value[0]) {
        try {
          await handOver(next)
          away.value = false
        } catch (error) {
          if (!(error instanceof Refused) || error.problem.status >= 500) {
            away.value = true
            return
          }
          refused.value = [...refused.value, `${noted(next)} ${whyOf(error, '')}`]
        }
        kept.drop(next.entry.id)
      }
    } finally {
      sending = false
    }
  }
  async function handOver({ entry, picture }: Waiting): Promise<void> {
    const path = { job_id: mine }
    const photo = picture === undefined ? entry.photo : await uploaded(mine, picture)
    await answered(
      client.POST('/api/jobs/{job_id}/build', {
        params: { path },
        body: { entries: [{ ...entry, photo: photo ?? '' }] },
      }),
    )
    await refetch()
  }
  useEventListener(window, 'online', () => void send())
  useIntervalFn(() => {
    if (waiting.value.length > 0) void send()
  }, LOOK_MS)
  void send()
  return { of, states, served, note, waiting, refused, away, full: kept.full }
}

/** An entry in words, so that what was refused can be noted again. */
function noted({ entry, called }: Waiting): string {
  const words = [entry.value ?? '', entry.unit, entry.text].filter((part) => part !== '').join(' ')
  return `${[called ?? '', KIND[entry.kind] ?? '', words].filter((part) => part !== '').join(', ')}:`
}

async function uploaded(job: number, picture: string): Promise<string> {
  const bytes = Uint8Array.from(atob(picture.split(',')[1] ?? ''), (letter) => letter.charCodeAt(0))
  const blob = new Blob([bytes], { type: 'image/jpeg' })
  const sent = client.POST('/api/jobs/{job_id}/build/photographs', {
    params: { path: { job_id: job } },
    body: blob as never,
    bodySerializer: (body: unknown) => body as Blob,
    headers: { 'Content-Type': 'image/jpeg' },
  })
  return (await answered(sent)).photo
}
