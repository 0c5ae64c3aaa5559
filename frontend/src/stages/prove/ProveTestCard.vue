<script setup lang="ts">
/** One test, large: the state to bring about, where the probes go, the band, the entry, the verdict. */
import type { KeptInstrument, NewEntry, ProofRow, StepState } from '../../api/types'
import { said } from '../../ui/locale'
import TwoAccounts from '../build/TwoAccounts.vue'
import BandScale from './BandScale.vue'
import ReadingEntry from './ReadingEntry.vue'

defineProps<{
  row: ProofRow
  number: number
  of: number
  next: ProofRow | undefined
  narrows: string
  count: number
  unjudged: string
  by: KeptInstrument | undefined
  busy: boolean
  trouble: string
  state: StepState | undefined
}>()
defineEmits<{
  read: [value: number]
  measure: []
  go: [key: string]
  drawn: []
  settle: [kind: NewEntry['kind'], more: Partial<NewEntry>]
}>()
const MARKS: Record<string, [string, string]> = {
  right: ['good', '✓'],
  doubtful: ['caution', '▲'],
  wrong: ['stop', '■'],
  query: ['caution', '▲ ask the meter first:'],
  cannot: ['muted', '–'],
}
</script>

<template>
  <article class="panel card" :data-test="row.test.key">
    <p class="muted">Test {{ number }} of {{ of }} · {{ said(row.test.state) }} · {{ row.test.needs }}</p>
    <h2>{{ said(row.test.text) }}</h2>
    <dl>
      <div v-if="row.test.red">
        <dt><i class="red"></i>{{ row.test.black ? 'red probe' : 'where' }}</dt>
        <dd>{{ row.test.red }}</dd>
      </div>
      <div v-if="row.test.black">
        <dt><i class="black"></i>black probe</dt>
        <dd>{{ row.test.black }}</dd>
      </div>
    </dl>
    <p>
      {{ row.test.proves }}
      <button v-if="row.test.conductors?.length" type="button" class="link" data-drawn @click="$emit('drawn')">
        on the diagram: {{ row.test.conductors.join(', ') }}
      </button>
    </p>
    <p v-if="row.test.cannot" class="caution">▲ Cannot be done here: {{ row.test.cannot }}</p>
    <template v-else>
      <div class="taking" :class="{ looked: row.test.answers?.length }">
        <BandScale v-if="!row.test.answers?.length" :row="row" />
        <div class="entry">
          <ReadingEntry
            :row="row"
            :by="by"
            :busy="busy"
            :trouble="trouble"
            @read="$emit('read', $event)"
            @measure="$emit('measure')"
          />
          <p v-if="unjudged" class="caution" role="status" data-unjudged>▲ {{ unjudged }}</p>
          <p v-else-if="row.verdict !== 'open'" :class="MARKS[row.verdict]?.[0]" role="status" data-verdict>
            <b>{{ MARKS[row.verdict]?.[1] }} {{ said(row.text) }}</b>
            <span class="muted">{{ count > 1 ? ` ${count} readings kept, the last counts` : '' }}</span>
          </p>
        </div>
      </div>
      <TwoAccounts :state="state" @settle="(kind, more) => $emit('settle', kind, more)" />
      <button
        v-if="narrows && row.verdict !== 'right'"
        type="button"
        class="link"
        @click="$emit('go', row.narrowed_by)"
      >
        The band narrows most by: {{ narrows }}
      </button>
    </template>
    <button v-if="next" type="button" class="next" @click="$emit('go', next.test.key)">
      <b>Next</b><small>{{ said(next.test.text) }}</small>
    </button>
  </article>
</template>

<style scoped>
.card {
  padding: 14px 16px;
  display: grid;
  gap: 8px;
  align-content: start;
}
h2 {
  font-size: var(--title);
  line-height: 1.25;
}
dl {
  margin: 0;
}
dl div {
  display: flex;
  gap: 10px;
  align-items: center;
}
dt {
  color: var(--muted);
  min-width: 104px;
}
dd {
  margin: 0;
  font-weight: 600;
}
i {
  display: inline-block;
  width: 11px;
  height: 11px;
  border-radius: 50%;
  margin-right: 6px;
}
.red {
  background: var(--madder);
}
.black {
  background: var(--ink);
  border-radius: 1px;
}
.taking {
  display: grid;
  grid-template-columns: minmax(164px, 5fr) 6fr;
  gap: 6px 12px;
}
.taking.looked {
  grid-template-columns: 1fr;
}
.entry {
  display: grid;
  gap: 8px;
  align-content: start;
  min-width: 0;
}
.next {
  border: 0;
  border-radius: 4px;
  background: var(--teal);
  color: var(--panel);
  padding: 10px 14px;
  min-height: 56px;
  display: grid;
  cursor: pointer;
}
@media (max-width: 700px) {
  .card {
    border: 0;
    background: transparent;
    padding: 4px 2px;
  }
  .next,
  .link {
    min-height: 64px;
  }
}
</style>
