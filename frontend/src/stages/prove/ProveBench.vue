<script setup lang="ts">
/** Prove: the tests on the left, one of them large, and the legs as they were measured beside those designed. */
import { useMediaQuery, useSessionStorage } from '@vueuse/core'
import { computed, onBeforeUnmount, watch } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import { useJob } from '../../job/store'
import AnswerState from '../../ui/AnswerState.vue'
import type { MomentLine } from '../../trip/moment'
import { said } from '../../ui/locale'
import { useBuildLog } from '../build/buildLog'
import CausesPanel from './CausesPanel.vue'
import LegsPicture from './LegsPicture.vue'
import ProveOffers from './ProveOffers.vue'
import ProveTestCard from './ProveTestCard.vue'
import TestList from './TestList.vue'

const PROVE = 'Prove'
const job = useJob()
const log = useBuildLog()
/** Readings of each test, oldest first; the last counts, all are kept. */
const readings = computed(() => {
  const found: { test: string; value: number }[] = []
  for (const state of log.states.value.values()) {
    if (state.procedure !== PROVE) continue
    for (const entry of state.entries)
      if (entry.kind === 'reading' && entry.value !== null) found.push({ test: state.step, value: entry.value })
  }
  return found
})
const { data, pending, trouble } = useDerived(
  'prove',
  (design, signal) => answered(client.POST('/api/prove', { body: { design, readings: readings.value }, signal })),
  { more: () => readings.value },
)
const rows = computed(() => data.value?.rows ?? [])
const chosen = useSessionStorage<Record<string, string>>('olvask.prove.test', {})
const row = computed(
  () =>
    rows.value.find((item) => item.test.key === chosen.value[String(job.id)]) ??
    rows.value.find((item) => item.test.key === data.value?.next) ??
    rows.value[0],
)
const at = computed(() => rows.value.findIndex((item) => item === row.value))
const next = computed(
  () => rows.value.slice(at.value + 1).find((item) => item.verdict === 'open') ?? rows.value[at.value + 1],
)
const nameOf = (key: string) => rows.value.find((item) => item.test.key === key)?.test.text ?? ''
const count = computed(() => readings.value.filter((item) => item.test === row.value?.test.key).length)
function go(key: string): void {
  chosen.value = { ...chosen.value, [String(job.id)]: key }
}
function read(value: number): void {
  if (!row.value) return
  go(row.value.test.key)
  log.note(PROVE, row.value.test.key, 'reading', { value, unit: row.value.test.unit })
}
/** The measured line stands strong on the level line, the designed one faint behind it. */
watch(
  () => data.value?.measured,
  (line) => {
    job.moment = line ? ({ ...line, moment: true } as MomentLine) : null
  },
  { immediate: true },
)
onBeforeUnmount(() => {
  job.moment = null
})
const side = useSessionStorage<'legs' | 'causes'>('olvask.prove.side', 'legs')
const diagnosis = useDerived(
  'causes',
  (design, signal) =>
    answered(client.POST('/api/prove/causes', { body: { design, readings: readings.value }, signal })),
  { more: () => readings.value, wanted: () => side.value === 'causes' },
)
const narrow = useMediaQuery('(max-width: 700px)')
</script>

<template>
  <div class="prove">
    <AnswerState :pending="pending" :trouble="trouble" doing="Solving this vehicle…" />
    <p v-if="data" class="sum" data-sum>
      <b>{{ said(data.text) }}</b>
      <span v-if="log.waiting.value.length" class="caution"> kept here, sent when in reach</span>
    </p>
    <div class="body">
      <TestList v-if="!narrow" :rows="rows" :open="row?.test.key ?? ''" @go="go" />
      <ProveTestCard
        v-if="row"
        :row="row"
        :number="at + 1"
        :of="rows.length"
        :next="next"
        :narrows="nameOf(row.narrowed_by)"
        :count="count"
        @read="read"
        @go="go"
      />
      <section v-if="data" class="panel" aria-label="What the readings say">
        <div class="bench-head">
          <h2>{{ side === 'legs' ? 'Designed and measured' : 'What explains it' }}</h2>
          <button type="button" class="link" data-side @click="side = side === 'legs' ? 'causes' : 'legs'">
            {{ side === 'legs' ? 'what explains it' : 'mΩ of each leg' }}
          </button>
        </div>
        <LegsPicture v-if="side === 'legs'" :legs="data.legs" />
        <template v-else>
          <CausesPanel v-if="diagnosis.data.value" :diagnosis="diagnosis.data.value" :name-of="nameOf" @go="go" />
          <AnswerState
            :pending="diagnosis.pending.value"
            :trouble="diagnosis.trouble.value"
            doing="Trying each fault…"
          />
        </template>
        <ProveOffers v-if="data.offers.length" :offers="data.offers" />
        <p v-if="readings.length" class="small">
          <a :href="`/api/jobs/${job.id}/tests.csv`" data-paper="tests">Test record, CSV</a>
        </p>
        <p class="muted small">
          A band holds 95 of 100 healthy vehicles: it follows from what was read so far, the meter, and what is not
          known.
        </p>
      </section>
      <TestList v-if="narrow" :rows="rows" :open="row?.test.key ?? ''" @go="go" />
    </div>
  </div>
</template>

<style scoped>
.prove {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-height: 0;
}
.sum {
  font-size: var(--head);
}
.body {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(190px, 0.7fr) minmax(0, 1.2fr) minmax(0, 1fr);
  gap: 10px;
}
.body > :deep(*) {
  min-height: 0;
  overflow: auto;
}
.small {
  font-size: var(--text);
  margin-top: 8px;
}
@media (max-width: 700px) {
  .bench-head .link {
    min-height: 44px;
  }
}
@media (max-width: 1100px) {
  .body {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
