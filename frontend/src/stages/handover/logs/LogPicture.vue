<script setup lang="ts">
/** A while of the log beside the simulation of the same while: volts above, amperes below, what happened on the rail. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useElementSize } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answered, client } from '../../../api/client'
import { useJob } from '../../../job/store'
import type { LogReport } from '../../../api/types'
import LogPane from './LogPane.vue'
import { moment } from './when'

const props = defineProps<{ log: number; report: LogReport; at: { from: number; to: number } | null }>()
const job = useJob()
const DAY = 86_400
const LEFT = 48
const RIGHT = 10
const first = computed(() => props.report.begins_s)
const last = computed(() => props.report.ends_s)
const from = ref(first.value)
const to = ref(Math.min(last.value, first.value + 2 * DAY))
function go(begin: number, end: number): void {
  const long = Math.min(Math.max(end - begin, 60), last.value - first.value)
  from.value = Math.min(Math.max(begin, first.value), last.value - long)
  to.value = from.value + long
}
watch(
  () => props.at,
  (wanted) => {
    if (wanted) go(wanted.from, wanted.to)
  },
)
const step = (share: number) =>
  go(from.value + share * (to.value - from.value), to.value + share * (to.value - from.value))
const zoom = (times: number) => {
  const middle = (from.value + to.value) / 2
  const half = ((to.value - from.value) * times) / 2
  go(middle - half, middle + half)
}
const { data } = useQuery({
  queryKey: computed(() => ['log-window', job.id, job.version, props.log, from.value, to.value]),
  queryFn: () =>
    answered(
      client.GET('/api/jobs/{job_id}/logs/{log}/window', {
        params: { path: { job_id: job.id, log: props.log }, query: { from_s: from.value, to_s: to.value } },
      }),
    ),
  placeholderData: keepPreviousData,
})
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const VOLTS = ['input_v', 'post_v', 'auxiliary_v', 'output_v']
const AMPS = ['output_a', 'input_a', 'auxiliary_a']
const has = (names: string[]) => names.filter((name) => data.value?.logged.some((curve) => curve.measure === name))
const volts = ref('')
const amps = ref('')
const panes = computed(() =>
  [
    { names: has(VOLTS), chosen: volts.value, pick: (name: string) => (volts.value = name), tall: 170 },
    { names: has(AMPS), chosen: amps.value, pick: (name: string) => (amps.value = name), tall: 120 },
  ]
    .filter((pane) => pane.names.length)
    .map((pane) => ({ ...pane, name: pane.names.includes(pane.chosen) ? pane.chosen : (pane.names[0] ?? '') })),
)
const x = (seconds: number) =>
  LEFT +
  ((seconds - (data.value?.from_s ?? 0)) / Math.max(1, (data.value?.to_s ?? 1) - (data.value?.from_s ?? 0))) *
    (width.value - LEFT - RIGHT)
const rail = computed(() => (data.value?.happened ?? []).filter((item) => !['start', 'stop'].includes(item.what)))
const WORD: Record<string, string> = {
  low_phase: 'low',
  lockout: 'lockout',
  hunting: 'hunting',
  cold: 'cold',
  frost: 'charged in frost',
  early_taper: 'early taper',
  unfinished: 'unfinished',
}
const kinds = computed(() => [...new Set(rail.value.map((item) => item.what))])
</script>

<template>
  <section class="panel" data-log-picture aria-label="Log beside the simulation">
    <div class="bench-head">
      <h2>Beside the simulation</h2>
      <span class="aside key"><i class="logged" /> logged <i class="simulated" /> simulated</span>
    </div>
    <div class="moves" role="group" aria-label="Period shown">
      <button type="button" class="link" @click="step(-0.8)">◀ earlier</button>
      <button type="button" class="link" @click="step(0.8)">later ▶</button>
      <button type="button" class="link" data-log-closer @click="zoom(0.4)">closer</button>
      <button type="button" class="link" @click="zoom(2.5)">wider</button>
      <button type="button" class="link" @click="go(first, last)">all of it</button>
      <span class="muted">{{ moment(from) }} to {{ moment(to) }}</span>
    </div>
    <div ref="box" data-log-picture>
      <template v-if="data && width > 120">
        <LogPane
          v-for="pane in panes"
          :key="pane.names[0]"
          :window="data"
          :name="pane.name"
          :names="pane.names"
          :width="width"
          :height="pane.tall"
          :left="LEFT"
          :right="RIGHT"
          @pick="pane.pick"
          @range="go"
        />
        <svg class="chart" :width="width" :height="kinds.length * 18 + 4" role="img" aria-label="What happened in it">
          <g v-for="(what, row) in kinds" :key="what" :class="['rail', what]">
            <text :x="LEFT - 6" :y="row * 18 + 14" class="end">{{ WORD[what] }}</text>
            <rect
              v-for="item in rail.filter((one) => one.what === what)"
              :key="item.at_s"
              :x="Math.max(LEFT, x(item.at_s))"
              :y="row * 18 + 5"
              :width="Math.max(3, Math.min(x(item.until_s ?? item.at_s), width - RIGHT) - Math.max(LEFT, x(item.at_s)))"
              height="10"
            >
              <title>{{ moment(item.at_s, true) }} {{ item.text }}</title>
            </rect>
          </g>
        </svg>
        <p v-if="data.text" class="muted">{{ data.text }}</p>
      </template>
    </div>
  </section>
</template>

<style scoped>
.moves {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 4px 14px;
  font-size: var(--text);
  margin-bottom: 4px;
}
.key i {
  display: inline-block;
  width: 18px;
  height: 0;
  vertical-align: middle;
  border-top: 3px solid var(--copper);
  margin-left: 8px;
}
.key i.simulated {
  border-top: 2px dashed var(--teal);
}
.rail rect {
  fill: var(--ochre);
}
.rail.cold rect {
  fill: var(--teal);
}
.rail.lockout rect,
.rail.hunting rect {
  fill: var(--madder);
}
</style>
