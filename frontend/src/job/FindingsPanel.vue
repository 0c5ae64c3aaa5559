<script setup lang="ts">
/** What is wrong or worth knowing, each with its computed ways out. */
import { computed } from 'vue'
import type { Finding } from '../api/types'
import { quantity } from '../ui/format'
import FindingWays from './FindingWays.vue'
import { useRemedies } from './remedies'
import { useJob } from './store'
import { tied } from '../ui/tied'

const props = defineProps<{ stage: string; figures: string[] }>()
const emit = defineEmits<{ working: [name: string]; pick: [finding: Finding] }>()
const folded = defineModel<boolean>('folded', { default: false })
const job = useJob()
const { ways } = useRemedies()
const GLYPH: Record<Finding['level'], string> = { stop: '■', caution: '▲', note: '●' }
const LEVELS = ['stop', 'caution', 'note'] as const
const sorted = computed(() => {
  const all = job.assessment?.findings ?? []
  const rank: Record<Finding['level'], number> = { stop: 0, caution: 1, note: 2 }
  return [...all].sort(
    (a, b) => rank[a.level] - rank[b.level] || Number(b.stage === props.stage) - Number(a.stage === props.stage),
  )
})
const count = (level: Finding['level']) => sorted.value.filter((item) => item.level === level).length
const summary = computed(() =>
  (
    [
      ['stop', 'stop'],
      ['caution', 'caution'],
      ['note', 'note'],
    ] as const
  )
    .map(([level, word]) => [count(level), word] as const)
    .filter(([n]) => n > 0)
    .map(([n, word]) => `${n}\u00a0${word}${n > 1 ? 's' : ''}`)
    .join(', '),
)
const shown = computed(() =>
  props.figures.flatMap((name) => {
    const figure = job.assessment?.figures[name]
    return figure ? [figure] : []
  }),
)
</script>

<template>
  <section class="panel findings" :class="{ folded }" aria-label="Findings">
    <div class="bench-head">
      <h2>Findings</h2>
      <span class="aside" aria-live="polite">{{ summary || 'none' }}</span>
      <button
        type="button"
        class="link fold"
        :aria-expanded="!folded"
        :title="`${folded ? 'Unfold' : 'Fold'} the findings (f)`"
        @click="folded = !folded"
      >
        {{ folded ? '‹' : '›' }}<span class="visually-hidden">{{ folded ? 'Unfold' : 'Fold' }} the findings</span>
      </button>
    </div>
    <ul v-if="folded" class="counts" aria-hidden="true">
      <li v-for="level in LEVELS.filter((item) => count(item) > 0)" :key="level" :class="level">
        {{ GLYPH[level] }} {{ count(level) }}
      </li>
    </ul>
    <p v-if="sorted.length === 0" class="muted none">No findings against this design so far.</p>
    <ul>
      <li
        v-for="finding in sorted"
        :key="finding.id"
        :data-finding="finding.id"
        :class="{ elsewhere: finding.stage !== stage }"
      >
        <span class="glyph" :class="finding.level" aria-hidden="true">{{ GLYPH[finding.level] }}</span>
        <div>
          <button
            type="button"
            class="plain title"
            :aria-label="`${finding.level}: ${finding.title}`"
            @click="emit('pick', finding)"
          >
            {{ tied(finding.title) }}
          </button>
          <p>{{ tied(finding.text) }}</p>
          <FindingWays :finding="finding" :ways="ways.get(finding.id)" />
        </div>
      </li>
    </ul>
    <dl v-if="shown.length">
      <div v-for="figure in shown" :key="figure.name">
        <dt>{{ figure.label }}</dt>
        <dd>
          <button
            type="button"
            class="plain figure"
            :data-figure="figure.name"
            :aria-label="`${figure.label} ${quantity(figure.value, figure.unit)}, show working`"
            @click="emit('working', figure.name)"
          >
            {{ quantity(figure.value, figure.unit) }}
          </button>
        </dd>
      </div>
    </dl>
  </section>
</template>

<style scoped>
.findings {
  padding: 10px 12px;
  overflow: auto;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 9px;
}
li {
  display: grid;
  grid-template-columns: 18px 1fr;
}
.glyph {
  font-size: var(--small);
  line-height: 18px;
}
.title {
  font-weight: 600;
  font-size: var(--lead);
}
li p {
  font-size: var(--text);
  color: var(--muted);
  line-height: 1.32;
}
.none {
  font-size: var(--text);
}
dl {
  margin: 12px 0 0;
  border-top: 1px solid var(--edge);
  padding-top: 6px;
}
dl div {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 2px 0;
  font-size: var(--text);
}
dt {
  color: var(--muted);
}
dd {
  margin: 0;
}
.figure {
  font-weight: 600;
  border-bottom: 1px dotted var(--edge);
  white-space: nowrap;
}
.fold {
  font-size: var(--head);
  line-height: 1;
  text-decoration: none;
  padding: 0 4px;
}
.folded {
  padding: 8px 6px;
}
.folded h2,
.folded .aside,
.folded > :not(.bench-head, .counts) {
  display: none;
}
.counts li {
  display: block;
  text-align: center;
  font-weight: 600;
}
@media (max-width: 1100px) {
  .folded h2,
  .folded .aside {
    display: revert;
  }
}
</style>
