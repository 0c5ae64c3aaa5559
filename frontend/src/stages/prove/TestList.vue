<script setup lang="ts">
/** The tests in working order, each with its verdict by shape and word. */
import { computed } from 'vue'
import type { ProofRow } from '../../api/types'
import { capital, useDrive } from '../../job/drive'
import { said } from '../../ui/locale'

const props = defineProps<{ rows: readonly ProofRow[]; open: string }>()
defineEmits<{ go: [key: string] }>()
const fewest = defineModel<boolean>('fewest', { required: true })
const { off } = useDrive()
const GROUPS: Record<string, string> = {
  dead: 'Dead',
  engine_off: 'Off',
  running: 'Running',
  after: 'After',
  finding: 'To tell causes apart',
}
const parts = computed(() =>
  Object.entries(GROUPS)
    .map(([key, label]) => ({
      key,
      label: key === 'engine_off' ? capital(off.value) : label,
      rows: props.rows.filter((row) => row.test.group === key),
    }))
    .filter((part) => part.rows.length > 0),
)
const MARK: Record<string, string> = { open: '', right: '✓', doubtful: '▲', wrong: '■', query: '▲', cannot: '–' }
const WORD: Record<string, string> = {
  open: 'to do',
  right: 'as it should be',
  doubtful: 'doubtful',
  wrong: 'wrong',
  query: 'ask the meter',
  cannot: 'cannot be done',
}
</script>

<template>
  <nav class="panel list" aria-label="Tests">
    <label class="which"
      ><input v-model="fewest" type="checkbox" data-fewest /> only the fewest a job is signed off by</label
    >
    <section v-for="part in parts" :key="part.key">
      <h3>{{ part.label }}</h3>
      <button
        v-for="row in part.rows"
        :key="row.test.key"
        type="button"
        :aria-current="row.test.key === open ? 'step' : undefined"
        :data-go="row.test.key"
        @click="$emit('go', row.test.key)"
      >
        <i :class="row.verdict" aria-hidden="true">{{ MARK[row.verdict] }}</i><span>{{ said(row.test.text) }}</span
        ><span class="visually-hidden">{{ WORD[row.verdict] }}</span>
      </button>
    </section>
  </nav>
</template>

<style scoped>
.list {
  padding: 6px 10px;
}
.which {
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: var(--text);
  color: var(--muted);
}
h3 {
  font-size: var(--text);
  color: var(--muted);
  margin: 8px 0 2px;
}
button {
  display: grid;
  grid-template-columns: 20px minmax(0, 1fr);
  width: 100%;
  text-align: left;
  background: none;
  border: 0;
  border-left: 3px solid transparent;
  padding: 4px 4px;
  font-size: var(--text);
  line-height: 1.25;
  cursor: pointer;
}
i {
  font-style: normal;
  font-weight: 700;
}
.right {
  color: var(--verdigris);
}
.doubtful,
.query {
  color: var(--ochre);
}
.wrong {
  color: var(--madder);
}
[aria-current] {
  background: var(--copper-wash);
  border-left-color: var(--copper);
  font-weight: 600;
}
@media (max-width: 700px) {
  .which,
  button {
    min-height: 44px;
    align-items: center;
  }
}
</style>
