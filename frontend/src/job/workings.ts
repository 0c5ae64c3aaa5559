/** The words of figures: rule, numbers put in, where they came from. Asked for where they are read, a breath behind. */
import { answered, client } from '../api/client'
import { useDerived } from '../api/derived'
import { computed, type ComputedRef } from 'vue'
import type { Figure } from '../api/types'

/** Every figure with its words, once they are there. */
export function useWorkings(wanted: () => boolean = () => true): ComputedRef<Record<string, Figure>> {
  const { data } = useDerived(
    'figures',
    async (design, signal) => (await answered(client.POST('/api/figures', { body: design, signal }))).figures,
    { pause_ms: 60, said: false, wanted },
  )
  return computed(() => data.value ?? {})
}
