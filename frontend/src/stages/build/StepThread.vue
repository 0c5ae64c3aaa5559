<script setup lang="ts">
/** The thread: a knot for each step, its shape by the part of the work; strands to what it waits for when focused. */
import { computed } from 'vue'
import type { Placed, StepState } from '../../api/types'
import { said } from '../../ui/locale'
import { GROUPS, KNOTS } from './groups'

const props = defineProps<{
  steps: readonly Placed[]
  open: string
  stateOf: (step: string) => StepState | undefined
}>()
defineEmits<{ go: [step: string] }>()
const parts = computed(() => {
  const found: { group: string; steps: Placed[] }[] = []
  for (const placed of props.steps) {
    const last = found.at(-1)
    if (last?.group === placed.step.group) last.steps.push(placed)
    else found.push({ group: placed.step.group, steps: [placed] })
  }
  return found
})
const tied = computed(() => {
  const placed = props.steps.find((item) => item.step.key === props.open)
  return new Set([...(placed?.waits_for ?? []), ...(placed?.needed_by ?? [])].map((item) => item.step))
})
const mark = (step: string) => {
  const state = props.stateOf(step)?.state
  return state === 'done' ? '✓' : state === 'skipped' ? '–' : ''
}
</script>

<template>
  <nav class="panel thread" aria-label="Steps">
    <section v-for="(part, at) in parts" :key="`${part.group}${at}`">
      <h3>
        <svg viewBox="0 0 14 14" aria-hidden="true"><path :d="KNOTS[part.group]" /></svg>{{ GROUPS[part.group] }}
      </h3>
      <ol>
        <li v-for="placed in part.steps" :key="placed.step.key">
          <button
            type="button"
            :aria-current="placed.step.key === open ? 'step' : undefined"
            :class="[stateOf(placed.step.key)?.state ?? 'open', { tied: tied.has(placed.step.key) }]"
            :data-knot="placed.step.key"
            @click="$emit('go', placed.step.key)"
          >
            <i aria-hidden="true">{{ mark(placed.step.key) || placed.number }}</i><span>{{
              said(placed.step.text)
            }}</span
            ><span class="hidden">{{ stateOf(placed.step.key)?.state ?? 'open' }}</span>
          </button>
        </li>
      </ol>
    </section>
  </nav>
</template>

<style scoped>
.thread {
  position: relative;
  padding: 8px 10px;
  overflow-y: auto;
  min-height: 0;
}
h3 {
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: var(--text);
  color: var(--muted);
  margin: 8px 0 2px;
}
svg {
  width: 12px;
  height: 12px;
  fill: var(--copper);
}
ol {
  list-style: none;
  margin: 0 0 0 5px;
  padding: 0;
  border-left: 1.5px solid var(--edge);
}
button {
  display: grid;
  grid-template-columns: 24px minmax(0, 1fr);
  gap: 4px;
  width: 100%;
  text-align: left;
  background: none;
  border: 0;
  border-left: 3px solid transparent;
  margin-left: -2px;
  padding: 3px 4px;
  font-size: var(--text);
  line-height: 1.25;
  cursor: pointer;
}
button span:not(.hidden) {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
  overflow: hidden;
}
i {
  font-style: normal;
  color: var(--muted);
  text-align: right;
}
.done i {
  color: var(--verdigris);
  font-weight: 700;
}
.skipped i {
  color: var(--ochre);
  font-weight: 700;
}
.done,
.skipped {
  color: var(--muted);
}
.tied {
  border-left-color: var(--teal);
}
[aria-current] {
  background: var(--copper-wash);
  border-left-color: var(--copper);
  font-weight: 600;
}
.hidden {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
@media (max-width: 700px) {
  button {
    min-height: 44px;
    align-items: center;
  }
}
</style>
