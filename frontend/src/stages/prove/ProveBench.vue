<script setup lang="ts">
/** Prove: the tests on the left, one of them large, and the legs as they were measured beside those designed. */
import { useMediaQuery, useSessionStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, client, Unreachable } from '../../api/client'
import { useDerived } from '../../api/derived'
import type { NewEntry, ProofRow } from '../../api/types'
import { useJob } from '../../job/store'
import AnswerState from '../../ui/AnswerState.vue'
import { intoSight } from '../../ui/intoSight'
import { said } from '../../ui/locale'
import WaitingHere from '../build/WaitingHere.vue'
import { useBuildLog } from '../build/buildLog'
import InstrumentsDialog from './InstrumentsDialog.vue'
import ProveSays, { type Side } from './ProveSays.vue'
import ProveTestCard from './ProveTestCard.vue'
import ProveVisit from './ProveVisit.vue'
import TestList from './TestList.vue'
import { useInstruments } from './instruments'
import { showOnLine } from './onLine'
import { PROVE, unjudgedOf, useReadings, VISIT } from './readings'

const job = useJob()
const log = useBuildLog()
const { readings, all, cures, visit, latest } = useReadings(log)
const { readings: before } = useReadings({ states: log.served })
const instruments = useInstruments()
const { data, pending, trouble } = useDerived(
  'prove',
  async (design, signal) => {
    const ask = (read: typeof readings.value) =>
      answered(client.POST('/api/prove', { body: { design, readings: read }, signal }))
    try {
      return await ask(readings.value)
    } catch (error) {
      // Without signal: as far as it was worked out before what waits here was noted.
      if (!(error instanceof Unreachable) || log.waiting.value.length === 0) throw error
      return ask(before.value)
    }
  },
  { more: () => readings.value },
)
const BAD: readonly ProofRow['verdict'][] = ['wrong', 'doubtful', 'query']
const fewest = useSessionStorage('olvask.prove.fewest', true)
const side = useSessionStorage<Side>('olvask.prove.side', 'legs')
const rows = computed(() => data.value?.rows ?? [])
/** The fewest, or all; those that only tell causes apart where causes are looked for. What was read always shows. */
const shown = computed(() =>
  rows.value.filter(
    (row) =>
      row.verdict !== 'open' ||
      row.test.key === chosen.value[String(job.id)] ||
      (row.test.group === 'finding' ? side.value === 'causes' : !fewest.value || row.test.fewest),
  ),
)
const chosen = useSessionStorage<Record<string, string>>('olvask.prove.test', {})
/** The one that was chosen last; else what is wrong before what is not done, as the yard has it. */
const row = computed(
  () =>
    rows.value.find((item) => item.test.key === chosen.value[String(job.id)]) ??
    BAD.flatMap((verdict) => rows.value.filter((item) => item.verdict === verdict))[0] ??
    shown.value.find((item) => item.verdict === 'open') ??
    shown.value[0],
)
const at = computed(() => shown.value.findIndex((item) => item === row.value))
const next = computed(
  () => shown.value.slice(at.value + 1).find((item) => item.verdict === 'open') ?? shown.value[at.value + 1],
)
const reader = computed(() => (row.value ? instruments.reader(row.value) : undefined))
const unjudged = computed(() => unjudgedOf(readings.value, row.value))
const nameOf = (key: string) => rows.value.find((item) => item.test.key === key)?.test.text ?? ''
const count = computed(() => readings.value.filter((item) => item.test === row.value?.test.key).length)
function go(key: string): void {
  chosen.value = { ...chosen.value, [String(job.id)]: key }
  void intoSight('[data-test]')
}
function look(at: Side): void {
  side.value = at
  void intoSight('[data-says]')
}
/** A reading belongs to the test it was taken for, also where another one was opened before it stood still. */
function noted(test: ProofRow['test'], value: number, text: string): void {
  log.note(PROVE, test.key, 'reading', { value, unit: test.unit ?? '', text, called: test.text })
}
const note = (kind: NewEntry['kind'], more: Partial<NewEntry>) => {
  if (row.value) log.note(PROVE, row.value.test.key, kind, { ...more, called: row.value.test.text })
}
async function measure(): Promise<void> {
  const [by, test] = [reader.value, row.value]
  if (!by || !test || job.design === null) return
  go(test.test.key)
  asked.value = test.test.key
  const found = await instruments.read(by, job.design, test.test.key)
  if (found) noted(test.test, found.value, found.text)
}
const asked = ref('') // the test an instrument was asked to read last: what was wrong with that is said there
function typed(value: number): void {
  if (!row.value) return
  go(row.value.test.key)
  asked.value = ''
  noted(row.value.test, value, '')
}
showOnLine(
  () => data.value?.measured,
  () => row.value?.test,
)
const narrow = useMediaQuery('(max-width: 700px)')
const dialog = ref(false)
</script>

<template>
  <div class="prove">
    <AnswerState :pending="pending" :trouble="trouble" doing="Solving this vehicle…" />
    <p v-if="data" class="sum" data-sum>
      <b>{{ said(data.text) }}</b>
    </p>
    <ProveVisit
      :latest="latest"
      :visit="visit"
      @begin="log.note(PROVE, VISIT, 'done')"
      @back="log.note(PROVE, VISIT, 'open')"
    />
    <WaitingHere :log="log" />
    <div class="body">
      <TestList v-if="!narrow" v-model:fewest="fewest" :rows="shown" :open="row?.test.key ?? ''" @go="go" />
      <ProveTestCard
        :unjudged="unjudged"
        v-if="row"
        :row="row"
        :number="at + 1"
        :of="shown.length"
        :next="next"
        :narrows="nameOf(row.narrowed_by)"
        :count="count"
        :by="reader"
        :busy="instruments.busy.value"
        :trouble="asked === row.test.key ? instruments.trouble.value : ''"
        @read="typed"
        @measure="measure"
        @go="go"
        :state="log.of(PROVE, row.test.key)"
        @drawn="look('diagram')"
        @settle="(kind, more) => note(kind, more)"
      />
      <ProveSays
        v-if="data"
        v-model:side="side"
        :proof="data"
        :conductors="row?.test.conductors ?? []"
        :readings="readings"
        :any="all.length > 0"
        :cures="cures.map((cure) => cure.text)"
        :instruments="instruments"
        @go="go"
        @instruments="dialog = true"
      />
      <TestList v-if="narrow" v-model:fewest="fewest" :rows="shown" :open="row?.test.key ?? ''" @go="go" />
    </div>
    <InstrumentsDialog v-model:visible="dialog" />
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
  position: relative;
  min-height: 0;
  overflow: auto;
}
@media (max-width: 1100px) {
  .body {
    grid-template-columns: minmax(0, 0.6fr) minmax(0, 1fr);
  }
  .body > :deep(nav) {
    grid-row: span 2;
    max-height: 90vh;
  }
}
@media (max-width: 700px) {
  .body {
    grid-template-columns: minmax(0, 1fr);
  }
  .body > :deep(nav) {
    max-height: none;
  }
}
</style>
