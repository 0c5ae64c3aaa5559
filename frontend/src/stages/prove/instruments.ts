/** Instruments of the workshop: which of them reads a test, and reading by one key. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client, whyOf } from '../../api/client'
import type { Design, Instrument, KeptInstrument, ProofRow } from '../../api/types'

const UNIT: Record<string, Instrument['reads'][number]> = {
  V: 'volts',
  mV: 'volts',
  A: 'amps',
  mA: 'amps',
  Ω: 'ohms',
  mΩ: 'ohms',
  '°C': 'celsius',
  s: 'seconds',
}

export function useInstruments() {
  const queries = useQueryClient()
  const { data } = useQuery({
    queryKey: ['instruments'],
    queryFn: () => answered(client.GET('/api/instruments')),
    retry: false,
  })
  const { data: house } = useQuery({
    queryKey: ['house'],
    queryFn: () => answered(client.GET('/api/house')),
    staleTime: Infinity,
    retry: false,
  })
  const all = computed(() => data.value?.instruments ?? [])
  const busy = ref(false)
  const trouble = ref('')
  function took(answer: { instruments: readonly KeptInstrument[] }): void {
    queries.setQueryData(['instruments'], answer)
  }
  async function tried<T>(work: () => Promise<T>): Promise<T | null> {
    busy.value = true
    trouble.value = ''
    try {
      return await work()
    } catch (error) {
      trouble.value = whyOf(error, 'The server does not answer; type the reading.')
      return null
    } finally {
      busy.value = false
    }
  }
  const reader = (row: ProofRow): KeptInstrument | undefined => {
    const wanted = UNIT[row.test.unit ?? '']
    if (wanted === undefined) return undefined
    const fit = all.value.filter(({ instrument }) => instrument.kind === 'meter' && instrument.reads.includes(wanted))
    return fit.find(({ instrument }) => instrument.name === house.value?.house.meter) ?? fit[0]
  }
  const read = (by: KeptInstrument, design: Design, test: string) =>
    tried(() =>
      answered(
        client.POST('/api/instruments/{number}/read', {
          params: { path: { number: by.id } },
          body: { design, test },
        }),
      ),
    )
  const add = async (instrument: Instrument): Promise<boolean> => {
    const answer = await tried(() => answered(client.POST('/api/instruments', { body: instrument })))
    if (answer) took(answer)
    return answer !== null
  }
  const remove = async (number: number): Promise<void> => {
    const path = { number }
    const answer = await tried(() => answered(client.DELETE('/api/instruments/{number}', { params: { path } })))
    if (answer) took(answer)
  }
  const call = (number: number) =>
    tried(() => answered(client.POST('/api/instruments/{number}/name', { params: { path: { number } } })))
  /** The first rig among them; `null` without one. */
  async function rig(): Promise<number | null> {
    for (const { id, instrument } of all.value) if (instrument.kind === 'meter' && (await call(id))?.rig) return id
    trouble.value = ''
    return null
  }
  /** Tell the rig what was done to its vehicle. */
  async function mend(what: string): Promise<void> {
    const number = await rig()
    if (number === null) return
    await tried(() =>
      answered(client.POST('/api/instruments/{number}/mend', { params: { path: { number } }, body: { what } })),
    )
  }
  /** Tell the rig that its vehicle was mended; what had been wrong, empty without one. */
  async function cure(): Promise<string> {
    const number = await rig()
    if (number === null) return ''
    const answer = await tried(() =>
      answered(client.POST('/api/instruments/{number}/cure', { params: { path: { number } } })),
    )
    return answer?.words ?? ''
  }
  return { all, busy, trouble, reader, read, add, remove, call, cure, mend }
}
