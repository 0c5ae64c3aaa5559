/** A case being worked on: what was done stands on this device, and the server answers for all of it each time. */
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import { answered, client, whyOf } from '../api/client'
import type { components } from '../api/schema.gen'
import { me } from '../api/signedIn'
import { initials } from '../stages/settings/keyed'
import { asking } from '../ui/asking'

export type Move = Omit<components['schemas']['MoveIn'], 'value'> & { value?: number | null }
export type CaseState = components['schemas']['CaseOut']
export type Review = components['schemas']['Review']
type Level = components['schemas']['CourseIn']['level']

export function useCase(level: Ref<number>, number: Ref<number>) {
  const steps = useLocalStorage<Move[]>(() => `olvask.practice.${String(level.value)}-${String(number.value)}`, [])
  const trouble = ref('')
  const busy = ref(false)
  const review = ref<Review | null>(null)
  const body = (moves: readonly Move[]) => ({
    level: level.value as Level,
    number: number.value,
    steps: moves.map((move) => ({ ...move, value: move.value ?? null })),
    by: me.value?.name ?? initials.value.trim(),
  })
  const { data, error, refetch } = useQuery({
    queryKey: computed(() => ['practice-case', level.value, number.value, JSON.stringify(steps.value)]),
    queryFn: () => answered(client.POST('/api/practice/case', { body: body(steps.value) })),
    placeholderData: (before: CaseState | undefined, query) =>
      query?.queryKey[1] === level.value && query.queryKey[2] === number.value ? before : undefined,
    staleTime: Infinity,
    retry: false,
    meta: { said: true },
  })
  const away = computed(() =>
    error.value ? whyOf(error.value, 'The server does not answer; what you did is kept. Try again in a moment.') : '',
  )
  const which = () => `${String(level.value)}-${String(number.value)}`
  const [acted, ended] = [asking(which), asking(which)]
  async function act(move: Move): Promise<void> {
    if (busy.value || data.value?.over) return
    busy.value = true
    trouble.value = ''
    const counts = acted()
    try {
      // Asked first: what the server refuses is not done.
      await answered(client.POST('/api/practice/case', { body: body([...steps.value, move]) }))
      if (counts()) steps.value = [...steps.value, move]
    } catch (problem) {
      trouble.value = whyOf(problem, 'The server does not answer; do it again in a moment.')
    } finally {
      busy.value = false
    }
  }
  /** What the course comes to; asked for again it is the same. */
  async function read(): Promise<void> {
    const counts = ended()
    try {
      const found = await answered(client.POST('/api/practice/case/ended', { body: body(steps.value) }))
      if (counts()) review.value = found
    } catch (problem) {
      trouble.value = whyOf(problem, 'The server does not answer; read the course again in a moment.')
    }
  }
  function anew(): void {
    steps.value = []
    review.value = null
  }
  return { data, away, refetch, steps, act, read, anew, review, trouble, busy }
}
