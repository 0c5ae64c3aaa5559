<script setup lang="ts">
/** The road test: a day written as text or built on a timeline, driven with these very settings, beside an option where one is kept. */
import { fixed } from '../../ui/locale'
import { useQuery } from '@tanstack/vue-query'
import { refDebounced, useStorage } from '@vueuse/core'
import Select from '../../ui/prime/select'
import { computed, ref, watch } from 'vue'
import { useDerived } from '../../api/derived'
import { answered, client } from '../../api/client'
import type { Trip } from '../../api/types'
import { useLong } from '../../api/long'
import { useDrive } from '../../job/drive'
import { useJob } from '../../job/store'
import WorkProgress from '../../ui/WorkProgress.vue'
import { useMoment } from '../../trip/moment'
import DayPanel from './DayPanel.vue'
import TripChart from '../../trip/TripChart.vue'
import TripTotals from '../../trip/TripTotals.vue'
import { moment } from '../../trip/tracks'
import { csvOf, verdictOf } from '../../trip/words'

const job = useJob()
const { said } = useDrive()
const text = useStorage('olvask.programme', '')
const settled = refDebounced(text, 250)
const { data: own } = useDerived(
  'own day',
  (design, signal) => answered(client.POST('/api/programmes/own', { body: design, signal })),
  { said: false },
)
const first = computed(() => own.value?.programme ?? '')
const programme = computed(() => (settled.value ?? '').trim() || first.value)
const mine = useLong<Trip>()
const theirs = useLong<Trip>()
const { done, errors, stopped } = mine
const data = computed(() => (job.design?.charger ? mine.answer.value : null))
const pointing = computed(() =>
  data.value ? 'point at the picture or walk it with ← →: the level line follows; drag across it to look closer' : '',
)
const waiting = computed(() =>
  job.design?.charger ? mine.trouble.value || 'Driving the day…' : 'Choose a unit in Match first.',
)
const { data: options } = useQuery({
  queryKey: ['options', computed(() => job.id)],
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/options', { params: { path: { job_id: job.id } } })),
  gcTime: 0,
})
const beside = ref<number | null>(null)
const choices = computed(() => [
  { value: null, label: 'nothing beside it' },
  ...(options.value?.options ?? []).map((item) => ({ value: item.id, label: item.name })),
])
const rival = computed(() => options.value?.options.find((item) => item.id === beside.value) ?? null)
function run(): void {
  if (programme.value !== '' && job.design?.charger)
    void mine.ask('/api/trip/run', { programme: programme.value, samples: 900, design: job.design })
}
watch([() => job.assessed, programme], run, { immediate: true })
watch([rival, programme], () => {
  if (rival.value && programme.value !== '')
    void theirs.ask('/api/trip/run', { programme: programme.value, samples: 900, design: rival.value.design })
  else {
    theirs.stop()
    theirs.answer.value = null
  }
})
const at = ref<number | null>(null)
useMoment(data, at)
const marks = computed(() =>
  (job.assessment?.wake.marks ?? [])
    .filter((item) => item.acts && item.kind !== 'back')
    .map((item) => ({ label: item.label.toLowerCase(), value: item.value_v })),
)
const here = computed(() => {
  const series = data.value?.series
  if (!series || at.value === null) return null
  const index = at.value
  const of = (values: readonly number[], digits: number) => fixed(values[index] ?? 0, digits)
  return `${moment(series.time_s[index] ?? 0)}: ${series.stage[index] || series.state[index]}, ${said(series.engine[index] ?? '')} · in ${of(series.input_v, 2)} V, ${of(series.input_a, 1)} A · battery ${of(series.auxiliary_v, 2)} V, ${of(series.output_a, 1)} A · start ${Math.round((series.start_charge[index] ?? 0) * 100)} %, aux ${Math.round((series.auxiliary_charge[index] ?? 0) * 100)} %`
})
const verdict = computed(() => (data.value && errors.value.length === 0 ? verdictOf(data.value) : null))
function save(): void {
  if (!data.value) return
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([csvOf(data.value)], { type: 'text/csv' }))
  link.download = `${(job.heading.code || 'job').toLowerCase()}-road-test.csv`
  link.click()
  URL.revokeObjectURL(link.href)
}
</script>

<template>
  <div class="road">
    <DayPanel v-model="text" :first="first" :errors="errors" />
    <section class="panel picture" aria-label="Road test">
      <div class="bench-head">
        <h2 v-if="verdict" :class="verdict.tone" data-verdict>{{ verdict.words }}</h2>
        <h2 v-else>Road test</h2>
        <WorkProgress v-if="done !== null && done < 1" :done="done" what="driving" @stop="mine.stop()" /><span
          v-else
          class="aside"
          >{{
            errors.length
              ? '▲ this is the last day that could be read'
              : stopped
                ? 'stopped before the end; change something to drive again'
                : (here ?? pointing)
          }}</span
        >
      </div>
      <TripChart v-if="data" v-model:at="at" :trip="data" :marks="marks" :other="rival ? theirs.answer.value : null" />
      <p v-else class="muted" role="status">{{ waiting }}</p>
    </section>
    <section class="panel" aria-label="What the day comes to">
      <div class="bench-head">
        <h2>What it comes to</h2>
        <button type="button" class="link" :disabled="!data" @click="save">CSV</button>
      </div>
      <Select
        v-if="choices.length > 1"
        v-model="beside"
        :options="choices"
        option-label="label"
        option-value="value"
        size="small"
        aria-label="Option driven beside it"
        placeholder="nothing beside it"
        class="beside"
      />
      <TripTotals v-if="data" :trip="data" :other="rival ? theirs.answer.value : null" :name="rival?.name ?? ''" />
    </section>
  </div>
</template>

<style scoped>
.road {
  display: grid;
  grid-template-columns: 214px minmax(0, 1fr) 216px;
  gap: 10px;
}
section :deep(.p-select) {
  width: 100%;
}
.beside {
  margin-bottom: 4px;
}
.picture h2 {
  white-space: nowrap;
}
.picture .bench-head {
  flex-wrap: wrap;
  row-gap: 0;
}
.picture .aside {
  font-family: var(--narrow);
  flex-basis: 100%;
  text-align: left;
}
@media (max-width: 1100px) {
  .road {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
