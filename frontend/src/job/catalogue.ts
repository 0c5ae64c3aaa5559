/** Standard sizes, ratings and the shelf: fetched once. */
import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../api/client'

export function useCatalogue() {
  return useQuery({
    queryKey: ['catalogue'],
    queryFn: () => answered(client.GET('/api/catalogue')),
    staleTime: Infinity,
  })
}
