/** Reading a page of the yard; the first is asked for while the screens are still being read. */
import { useStorage } from '@vueuse/core'
import { askAhead, asked, atHand } from '../api/ahead'
import { answered, client } from '../api/client'
import type { paths } from '../api/schema.gen'

export type YardQuery = NonNullable<paths['/api/jobs']['get']['parameters']['query']>
export type Order = 'saved' | 'title' | 'code' | 'stops' | 'service'
export const ROWS = 50
export const useOrder = () => useStorage<Order>('olvask.yard.order', 'saved')

const ask = (query: YardQuery, signal?: AbortSignal) => answered(client.GET('/api/jobs', { params: { query }, signal }))

const named = (query: YardQuery): string => `yard ${JSON.stringify(query)}`
type Page = Awaited<ReturnType<typeof ask>>

export function readYardAhead(): Promise<void> {
  const query = { sought: '', stands: '' as const, order: useOrder().value, begin: 0, rows: ROWS }
  return askAhead(named(query), () => ask(query))
}
export const yardAtHand = (query: YardQuery): Page | undefined => atHand(named(query))
export function readYard(query: YardQuery, signal: AbortSignal): Promise<Page> {
  return asked(named(query), () => ask(query, signal))
}
