<script setup lang="ts">
/** One test, large: the state to bring about, where the probes go, the band, the entry, the verdict. */
import { ref, watch } from 'vue'
import type { ProofRow } from '../../api/types'
import { entered, said } from '../../ui/locale'
import { plainNumber } from '../../ui/number'
import BandScale from './BandScale.vue'

const props = defineProps<{
  row: ProofRow
  number: number
  of: number
  next: ProofRow | undefined
  narrows: string
  count: number
}>()
const emit = defineEmits<{ read: [value: number]; go: [key: string] }>()
const text = ref('')
const told = ref('')
watch(
  () => props.row.test.key,
  () => {
    text.value = ''
    told.value = ''
  },
)
function take(): void {
  if (text.value.trim() === '') return
  const value = plainNumber(text.value)
  if (value === null) {
    told.value = `"${text.value}" is not one number; type it in ${props.row.test.unit}, such as ${entered(Number((props.row.expected ?? props.row.least ?? 1).toFixed(1)))}.`
    return
  }
  told.value = ''
  text.value = ''
  emit('read', value)
}
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
    <p class="muted">Test {{ number }} of {{ of }} · {{ said(row.test.state) }}</p>
    <h2>{{ said(row.test.text) }}</h2>
    <dl>
      <div>
        <dt><i class="red"></i>{{ row.test.black ? 'red probe' : 'clamp' }}</dt>
        <dd>{{ row.test.red.replaceAll('_', ' ') }}</dd>
      </div>
      <div v-if="row.test.black">
        <dt><i class="black"></i>black probe</dt>
        <dd>{{ row.test.black }}</dd>
      </div>
    </dl>
    <p>{{ row.test.proves }}</p>
    <p v-if="row.test.cannot" class="caution">▲ Cannot be done here: {{ row.test.cannot }}</p>
    <template v-else>
      <BandScale :row="row" />
      <div class="take">
        <input
          id="prove-reading"
          v-model="text"
          type="text"
          inputmode="decimal"
          autocomplete="off"
          :aria-label="`${row.test.text}, ${row.test.unit}`"
          @keydown.enter="take"
          @change="take"
        />
        <span class="measure">{{ row.test.unit }}</span>
      </div>
      <p v-if="told" class="stop" role="alert">■ {{ told }}</p>
      <p v-if="row.verdict !== 'open'" :class="MARKS[row.verdict]?.[0]" role="status" data-verdict>
        <b>{{ MARKS[row.verdict]?.[1] }} {{ said(row.text) }}</b>
        <span class="muted">{{ count > 1 ? ` ${count} readings kept, the last counts` : '' }}</span>
      </p>
      <button v-if="narrows && row.verdict !== 'right'" type="button" class="link" @click="emit('go', row.narrowed_by)">
        The band narrows most by: {{ narrows }}
      </button>
    </template>
    <button v-if="next" type="button" class="next" @click="emit('go', next.test.key)">
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
.take {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: center;
  border: 2px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  padding: 4px 12px;
}
.take:focus-within {
  border-color: var(--copper);
}
input {
  border: 0;
  outline: none;
  background: transparent;
  font-size: var(--answer);
  font-weight: 600;
  min-height: 52px;
  min-width: 0;
}
.measure {
  font-size: var(--title);
  color: var(--muted);
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
