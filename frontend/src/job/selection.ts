/** What is in focus: a station or piece on the line, an operating condition, or a moment of a road test; and where probes are put. */
import { computed, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import type { Assessment, ConditionKey, ConditionLine, PieceFacts, Probes } from '../api/types'

export interface Selection {
  place: Ref<string>
  condition: Ref<ConditionKey>
  moment: ShallowRef<ConditionLine | null>
  probes: ShallowRef<Probes | null>
  line: ComputedRef<ConditionLine | null>
  pieceFacts: ComputedRef<Map<string, PieceFacts>>
  /** Keep the condition to those this vehicle has. */
  settle: () => void
}

export function useSelection(assessment: ShallowRef<Assessment | null>): Selection {
  const place = ref('charger')
  const condition = ref<ConditionKey>('idle')
  const moment = shallowRef<ConditionLine | null>(null)
  const probes = shallowRef<Probes | null>(null)
  const conditions = computed(() => assessment.value?.conditions ?? [])
  const chosen = computed(() => conditions.value.find((item) => item.key === condition.value))
  const line = computed(() => moment.value ?? chosen.value ?? conditions.value[0] ?? null)
  const pieceFacts = computed(() => new Map((assessment.value?.pieces ?? []).map((item) => [item.place, item])))
  function settle(): void {
    if (chosen.value === undefined) condition.value = 'idle'
  }
  return { place, condition, moment, probes, line, pieceFacts, settle }
}
