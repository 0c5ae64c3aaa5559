/** The house rules, fetched once. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '../api/client'

export function useHouse() {
  const { data } = useQuery({
    queryKey: ['house'],
    queryFn: () => answered(client.GET('/api/house')),
    staleTime: Infinity,
    retry: false,
  })
  return computed(() => data.value?.house)
}
