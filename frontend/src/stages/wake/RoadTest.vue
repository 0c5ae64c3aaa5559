<script setup lang="ts">
/** The road test: a day written as text or built on a timeline, driven with these very settings, beside an option where one is kept. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced, useStorage } from '@vueuse/core'
import Select from '../../ui/prime/select'
import Textarea from '../../ui/prime/textarea'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { useDerived } from '../../api/derived'
import { answered, client } from '../../api/client'
import type { Trip } from '../../api/types'
import ChoiceField from '../../ui/ChoiceField.vue'
import { useLong } from '../../api/long'
import { useJob } from '../../job/store'
import WorkProgress from '../../ui/WorkProgress.vue'
import DayBuilder from '../../trip/DayBuilder.vue'
import { useProgrammes } from '../../trip/library'
import { momentOf } from '../../trip/moment'
import TripChart from '../../trip/TripChart.vue'
import TripTotals from '../../trip/TripTotals.vue'
import { moment } from '../../trip/tracks'
import { csvOf, verdictOf } from '../../trip/words'

const job = useJob()
const library = useProgrammes()
const names = computed(() => Object.keys(library.value?.programmes ?? {}).map((name) => ({ value: name, label: name })))
const text = useStorage('olvask.programme', '')
const mode = useStorage<'text' | 'blocks'>('olvask.programme.mode', 'text')
const chosen = ref<string | null>(null)
const settled = refDebounced(text, 250)
const { data: own } = useDerived('own day', (design, signal) =>
  answered(client.POST('/api/programmes/own', { body: design, signal })),
)
const first = computed(() => own.value?.programme ?? '')
const programme = computed(() => (settled.value ?? '').trim() || first.value)
const built = computed({
  get: () => text.value.trim() || first.value,
  set: (next: string) => {
    text.value = next
  },
})
const mine = useLong<Trip>()
const theirs = useLong<Trip>()
const { answer: data, done, errors, stopped } = mine
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
  if (programme.value !== '' && job.design !== null)
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
watch([at, data], () => {
  job.moment =
    at.value === null || !data.value ? null : momentOf(data.value, at.value, job.assessment?.conditions ?? [])
})
onScopeDispose(() => {
  job.moment = null
})
const marks = computed(() =>
  (job.assessment?.wake.marks ?? [])
    .filter((item) => item.acts && item.kind !== 'back')
    .map((item) => ({ label: item.label.toLowerCase(), value: item.value_v })),
)
const here = computed(() => {
  const series = data.value?.series
  if (!series || at.value === null) return null
  const index = at.value
  const of = (values: readonly number[], digits: number) => (values[index] ?? 0).toFixed(digits)
  return `${moment(series.time_s[index] ?? 0)}: ${series.stage[index] || series.state[index]}, ${series.engine[index]} · in ${of(series.input_v, 2)} V, ${of(series.input_a, 1)} A · battery ${of(series.auxiliary_v, 2)} V, ${of(series.output_a, 1)} A · start ${Math.round((series.start_charge[index] ?? 0) * 100)} %, aux ${Math.round((series.auxiliary_charge[index] ?? 0) * 100)} %`
})
const verdict = computed(() => (data.value ? verdictOf(data.value) : null))
function take(name: string | null): void {
  if (name) text.value = library.value?.programmes[name] ?? ''
}
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
    <section class="panel" aria-label="Programme">
      <div class="bench-head">
        <h2>The day</h2>
        <span class="modes" role="tablist" aria-label="How to write it"
          ><button
            v-for="way in ['text', 'blocks'] as const"
            :key="way"
            type="button"
            role="tab"
            class="plain"
            :aria-selected="mode === way"
            :data-mode="way"
            @click="mode = way"
          >
            {{ way === 'text' ? 'as text' : 'on a timeline' }}
          </button></span
        >
      </div>
      <Select
        v-model="chosen"
        :options="names"
        option-label="label"
        option-value="value"
        size="small"
        placeholder="from the library"
        aria-label="Programme from the library"
        @update:model-value="take"
      />
      <Textarea
        v-if="mode === 'text'"
        v-model="text"
        rows="8"
        class="day"
        :placeholder="first"
        aria-label="Programme, one stretch a line"
        spellcheck="false"
        :invalid="errors.length > 0"
      />
      <DayBuilder v-else v-model="built" class="day" />
      <ul v-if="errors.length" class="errors" role="alert">
        <li v-for="wrong in errors" :key="wrong.field + wrong.message">
          <b>{{ wrong.field }}</b>: {{ wrong.message }}
        </li>
      </ul>
      <p v-else-if="mode === 'text'" class="muted small">
        One stretch a line: off, crank, idle, cruise, low; s, min, h, d; then load 4 A, sun 80 W, ambient -5 °C,
        unplugged. repeat 6 … end.
      </p>
      <p v-else class="muted small">← → walks, ↑ ↓ or the edge changes how long, Alt ← → moves, Delete takes out.</p>
      <ChoiceField path="charge.profile" />
    </section>
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
                : (here ??
                  'point at the picture or walk it with ← →: the level line follows; drag across it to look closer')
          }}</span
        >
      </div>
      <TripChart v-if="data" v-model:at="at" :trip="data" :marks="marks" :other="rival ? theirs.answer.value : null" />
      <p v-else class="muted" role="status">{{ mine.trouble.value || 'Driving the day…' }}</p>
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
.day {
  width: 100%;
  margin-top: 6px;
}
textarea.day {
  font-family: var(--narrow);
  font-size: var(--text);
  line-height: 1.3;
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
.modes {
  display: flex;
  gap: 8px;
  font-size: var(--text);
}
.modes button {
  color: var(--muted);
  border-bottom: 2px solid transparent;
}
.modes [aria-selected='true'] {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--copper);
}
.errors {
  color: var(--madder);
  font-size: var(--text);
  padding-left: 16px;
  margin: 6px 0 0;
}
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin: 6px 0;
}
@media (max-width: 1000px) {
  .road {
    grid-template-columns: minmax(0, 1fr);
  }
  .modes button {
    min-height: 38px;
  }
}
</style>
