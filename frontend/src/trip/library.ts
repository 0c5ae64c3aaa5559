/** Day programmes to begin with, asked for once. */
import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../api/client'

export function useProgrammes() {
  return useQuery({
    queryKey: ['programmes'],
    queryFn: () => answered(client.GET('/api/programmes')),
    staleTime: Infinity,
  }).data
}
