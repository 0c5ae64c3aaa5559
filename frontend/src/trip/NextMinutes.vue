<script setup lang="ts">
/** The next ten minutes with these very settings, redrawn as a threshold is dragged. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, client } from '../api/client'
import { useJob } from '../job/store'
import { useProgrammes } from './library'
import TripChart from './TripChart.vue'
import { counted } from '../ui/counted'

const job = useJob()
const library = useProgrammes()
const day = computed(() => library.value?.programmes['ten minutes'] ?? '')
// Asked beside the assessment, not after it: a dragged threshold is to be seen at once.
const asked = ref(0)
watch(
  () => job.design,
  () => {
    asked.value += 1
  },
)
const { data: driven, error } = useQuery({
  queryKey: ['minutes', asked],
  queryFn: async ({ signal }) => {
    const of = asked.value
    const trip = job.design?.charger
      ? await answered(
          client.POST('/api/trip', { signal, body: { programme: day.value, samples: 200, design: job.design } }),
        )
      : null
    return { of, trip }
  },
  enabled: computed(() => job.errors.size === 0 && day.value !== ''),
  placeholderData: keepPreviousData,
  retry: false,
  gcTime: 0,
})
const data = computed(() => driven.value?.trip ?? null)
/** Why there is no picture yet. */
const waits = computed(() => {
  if (!job.design?.charger) return 'Choose a unit first.'
  if (job.errors.size > 0) return 'It is driven as soon as every entry is mended.'
  return error.value === null ? 'Driving…' : 'The server does not answer.'
})
const marks = computed(() =>
  (job.assessment?.wake.marks ?? [])
    .filter((item) => item.acts && item.kind !== 'back')
    .map((item) => ({ label: item.label.toLowerCase(), value: item.value_v })),
)
const said = computed(() => {
  const totals = data.value?.totals
  if (!totals) return ''
  const starts = counted(totals.starts, 'start')
  return totals.hunting
    ? `${starts}, it hunts`
    : totals.guard_trips
      ? `${starts}, ${counted(totals.guard_trips, 'guard trip')}`
      : `${starts}, no hunting`
})
const tone = computed(() => (data.value?.totals.hunting ? 'stop' : data.value?.totals.guard_trips ? 'caution' : 'good'))
</script>

<template>
  <section class="panel minutes" aria-label="The next ten minutes" :data-driven="driven?.of">
    <div class="bench-head">
      <h2>The next ten minutes</h2>
      <span class="aside" :class="tone" data-minutes>{{ said }}</span>
    </div>
    <TripChart v-if="data" :trip="data" :marks="marks" compact />
    <p v-else class="muted">{{ waits }}</p>
  </section>
</template>

<style scoped>
.minutes {
  padding: 7px 10px 4px;
  min-height: 0;
  overflow: hidden;
}
.bench-head {
  margin-bottom: 2px;
}
</style>
