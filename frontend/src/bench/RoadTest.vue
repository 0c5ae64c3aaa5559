<script setup lang="ts">
/** The road test: a day written as text, driven with these very settings. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced, useStorage } from '@vueuse/core'
import Select from 'primevue/select'
import Textarea from 'primevue/textarea'
import { computed, ref } from 'vue'
import { answered, client, Refused } from '../api/client'
import { useJob } from '../job/store'
import TripChart from '../trip/TripChart.vue'
import { duration } from '../trip/tracks'

const job = useJob()
const { data: library } = useQuery({ queryKey: ['programmes'], queryFn: () => answered(client.GET('/api/programmes')), staleTime: Infinity })
const names = computed(() => Object.keys(library.value?.programmes ?? {}).map((name) => ({ value: name, label: name })))
const text = useStorage('olvask.programme', '')
const chosen = ref<string | null>(null)
const settled = refDebounced(text, 250)
const programme = computed(() => (settled.value ?? '').trim() || (library.value?.programmes['delivery round'] ?? ''))
const { data, error, isFetching } = useQuery({
  queryKey: ['trip', computed(() => job.assessed), programme],
  queryFn: () => (job.design === null ? null : answered(client.POST('/api/trip', { body: { programme: programme.value, samples: 900, design: job.design } }))),
  enabled: computed(() => programme.value !== ''), placeholderData: keepPreviousData, retry: false, gcTime: 0,
})
const faults = computed(() => (error.value instanceof Refused ? (error.value.problem.faults ?? []) : []))
const at = ref<number | null>(null)
const marks = computed(() => (job.assessment?.wake.thresholds ?? []).filter((item) => item.key !== 'restart' && (item.key === 'lockout' || job.assessment?.wake.voltage_used)).map((item) => ({ label: item.label.toLowerCase(), value: item.value_v })))
const here = computed(() => {
  const series = data.value?.series
  if (!series || at.value === null) return null
  const index = at.value
  return { time: duration(series.time_s[index] ?? 0), state: series.state[index], engine: series.engine[index], volts: (series.input_v[index] ?? 0).toFixed(2), amps: (series.input_a[index] ?? 0).toFixed(1), out: (series.output_a[index] ?? 0).toFixed(1), start: Math.round((series.start_charge[index] ?? 0) * 100), auxiliary: Math.round((series.auxiliary_charge[index] ?? 0) * 100) }
})
const verdict = computed(() => {
  const totals = data.value?.totals
  if (!totals) return null
  if (totals.hunting) return { tone: 'stop', words: '■ It hunts' }
  if (totals.lockouts > 0) return { tone: 'caution', words: `▲ Locked out ${totals.lockouts} times` }
  if (totals.starts === 0) return { tone: 'caution', words: '▲ It never starts' }
  return { tone: 'good', words: '✓ It runs clean' }
})
function take(name: string | null): void { if (name) text.value = library.value?.programmes[name] ?? '' }
function save(): void {
  const series = data.value?.series
  if (!series) return
  const keys = ['time_s', 'state', 'engine', 'input_v', 'input_a', 'output_a', 'post_v', 'auxiliary_v', 'start_charge', 'auxiliary_charge'] as const
  const rows = series.time_s.map((_, index) => keys.map((key) => series[key][index]).join(','))
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([[keys.join(','), ...rows].join('\n') + '\n'], { type: 'text/csv' }))
  link.download = `${(job.heading.code || 'job').toLowerCase()}-road-test.csv`
  link.click()
  URL.revokeObjectURL(link.href)
}
</script>

<template>
  <div class="road">
    <section class="panel" aria-label="Programme">
      <div class="bench-head"><h2>The day</h2></div>
      <Select v-model="chosen" :options="names" option-label="label" option-value="value" size="small" placeholder="from the library" aria-label="Programme from the library" @update:model-value="take" />
      <Textarea v-model="text" rows="9" class="day" :placeholder="library?.programmes['delivery round']" aria-label="Programme, one stretch a line" spellcheck="false" :invalid="faults.length > 0" />
      <ul v-if="faults.length" class="faults" role="alert"><li v-for="fault in faults" :key="fault.field + fault.message"><b>{{ fault.field }}</b>: {{ fault.message }}</li></ul>
      <p v-else class="muted small">One stretch a line: off, crank, idle, cruise, low, with s, min, h or d. Then load 4 A, sun 80 W, ignition on, unplugged. repeat 6 … end.</p>
    </section>
    <section class="panel picture" aria-label="Road test">
      <div class="bench-head"><h2 v-if="verdict" :class="verdict.tone" data-verdict>{{ verdict.words }}</h2><h2 v-else>Road test</h2><span class="aside">{{ isFetching ? 'driving…' : here ? `${here.time}: ${here.state}, engine ${here.engine} · ${here.volts} V, ${here.amps} A in, ${here.out} A out · start ${here.start} %, auxiliary ${here.auxiliary} %` : 'point at the picture, or walk it with ← →' }}</span></div>
      <TripChart v-if="data" v-model:at="at" :trip="data" :marks="marks" />
      <p v-else class="muted" role="status">Driving the day…</p>
    </section>
    <section class="panel" aria-label="What the day comes to">
      <div class="bench-head"><h2>What it comes to</h2><button type="button" class="link" :disabled="!data" @click="save">CSV</button></div>
      <dl v-if="data">
        <div><dt>Starts</dt><dd>{{ data.totals.starts }}</dd></div><div><dt>Lockouts</dt><dd>{{ data.totals.lockouts }}</dd></div><div><dt>Charging</dt><dd>{{ data.totals.charging_min.toFixed(0) }} min</dd></div><div><dt>with the engine off</dt><dd>{{ data.totals.engine_off_charging_min.toFixed(1) }} min</dd></div>
        <div><dt>Into the battery</dt><dd>{{ data.totals.charged_ah.toFixed(1) }} Ah</dd></div><div><dt>Off the start battery</dt><dd>{{ data.totals.drained_ah.toFixed(2) }} Ah</dd></div><div><dt>Start battery, lowest</dt><dd>{{ Math.round(data.totals.lowest_start_charge * 100) }} %</dd></div><div><dt>Auxiliary, at the end</dt><dd>{{ Math.round(data.totals.auxiliary_charge * 100) }} %</dd></div>
      </dl>
      <ol v-if="data" class="events"><li v-for="event in data.events.slice(0, 60)" :key="event.time_s + event.what" :class="event.what"><b>{{ duration(event.time_s) }} {{ event.what }}</b> <span class="muted">{{ event.text }}</span></li></ol>
      <p v-if="data && data.events.length > 60" class="muted small">and {{ data.events.length - 60 }} more</p>
    </section>
  </div>
</template>

<style scoped>
.road { display: grid; grid-template-columns: 200px minmax(0, 1fr) 216px; gap: 10px; }
section { padding: 8px 11px; overflow: auto; min-height: 0; } .day { width: 100%; margin-top: 6px; font-family: 'Barlow Semi Condensed'; font-size: 13px; line-height: 1.3; } section :deep(.p-select) { width: 100%; }
.faults { color: var(--madder); font-size: 12.5px; padding-left: 16px; margin: 6px 0 0; } .small { font-size: 12.5px; line-height: 1.35; margin-top: 6px; }
dl { margin: 0; font-size: 13px; } dl div { display: flex; justify-content: space-between; gap: 8px; padding: 1px 0; } dt { color: var(--muted); } dd { margin: 0; font-weight: 600; white-space: nowrap; }
.events { list-style: none; padding: 6px 0 0; margin: 6px 0 0; border-top: 1px solid var(--hair); font-size: 12.5px; display: grid; gap: 2px; line-height: 1.25; } .lockout b, .collapse b { color: var(--madder); } .start b { color: var(--teal); }
@media (max-width: 1000px) { .road { grid-template-columns: minmax(0, 1fr); } section { overflow: visible; } }
</style>
