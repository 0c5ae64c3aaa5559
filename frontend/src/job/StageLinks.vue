<script setup lang="ts">
/** The stages of a job with what stands against each. */
import { STAGE_LABEL, STAGES, type Stage } from '../app/router'
import { counted } from '../ui/counted'
import { useJob } from './store'

defineProps<{ stage: Stage }>()
const job = useJob()
const state = (name: Stage) => job.assessment?.stages[name]
/** Work that the design says nothing of: keyed, built, proven or handed over is for its own page to say. */
const WORK: readonly Stage[] = ['settings', 'build', 'prove', 'handover']
const mark = (name: Stage) => {
  const at = state(name)
  if (!at) return ''
  if (at.stops) return `■ ${at.stops}`
  if (at.cautions) return `▲ ${at.cautions}`
  if (at.missing.length) return '○'
  return WORK.includes(name) ? '' : '✓'
}
const markClass = (name: Stage) => {
  const at = state(name)
  if (!at) return ''
  if (at.stops) return 'stop'
  if (at.cautions) return 'caution'
  return at.missing.length ? 'note' : 'good'
}
const some = (many: number, what: string) => (many === 0 ? [] : [counted(many, what)])
const hint = (name: Stage) => {
  const at = state(name)
  return at ? [...some(at.stops, 'stop'), ...some(at.cautions, 'caution'), ...at.missing].join(', ') : ''
}
</script>

<template>
  <nav class="stages" aria-label="Stages">
    <RouterLink
      v-for="(name, at) in STAGES"
      :key="name"
      :to="`/job/${job.id}/${name}`"
      :class="{ open: name === stage }"
      :title="hint(name)"
      :aria-current="name === stage ? 'step' : undefined"
      ><small>{{ at + 1 }}</small> {{ STAGE_LABEL[name] }}
      <span :class="markClass(name)">{{ mark(name) }}</span></RouterLink
    >
  </nav>
</template>

<style scoped>
.stages {
  display: flex;
  gap: 1px;
  margin-left: auto;
  height: 100%;
}
.stages a {
  display: flex;
  align-items: center;
  gap: 5px;
  padding: 2px 8px 0;
  text-decoration: none;
  color: var(--ink);
  font-size: var(--lead);
  border-bottom: 3px solid transparent;
  white-space: nowrap;
}
.stages small {
  color: var(--muted);
  font-size: var(--small);
}
.stages a span {
  font-size: var(--small);
}
.stages a.open {
  border-color: var(--copper);
  font-weight: 600;
}
@media (max-width: 1180px) {
  .stages {
    order: 9;
    width: 100%;
    margin: 0;
    overflow-x: auto;
    height: 38px;
  }
}
@media (max-width: 1100px) {
  .stages {
    height: 44px;
  }
  .stages a {
    min-height: 44px;
    padding: 0 10px;
  }
}
</style>
