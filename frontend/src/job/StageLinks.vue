<script setup lang="ts">
/** The stages of a job with what stands against each. */
import { useTemplateRef } from 'vue'
import { useRoute } from 'vue-router'
import { STAGE_LABEL, STAGES, type Stage } from '../app/router'
import { counted } from '../ui/counted'
import { useInSight } from '../ui/inSight'
import { useHowFar } from './howFar'
import { useJob } from './store'

const props = defineProps<{ stage: Stage }>()
const job = useJob()
const route = useRoute() // names the job before it has come
const far = useHowFar()
useInSight(useTemplateRef<HTMLElement>('strip'), '[aria-current]', () => [
  props.stage,
  job.assessment !== null,
  far.value,
])
const state = (name: Stage) => job.assessment?.stages[name]
/** Work that the design says nothing of: it is done once it is keyed, built, proven, signed. */
const WORK: readonly Stage[] = ['settings', 'build', 'prove', 'handover']
/** What stands against a stage: of its design, and of what was read. */
const against = (name: Stage) => {
  const [at, work] = [state(name), far.value.get(name)]
  return { stops: (at?.stops ?? 0) + (work?.wrong ?? 0), cautions: (at?.cautions ?? 0) + (work?.doubtful ?? 0) }
}
const done = (name: Stage) => (WORK.includes(name) ? far.value.get(name)?.done === true : true)
const mark = (name: Stage) => {
  const [at, { stops, cautions }] = [state(name), against(name)]
  if (!at) return ''
  if (stops) return `■ ${stops}`
  if (cautions) return `▲ ${cautions}`
  if (at.missing.length) return '○'
  return done(name) ? '✓' : (far.value.get(name)?.begun ?? '')
}
const markClass = (name: Stage) => {
  const [at, { stops, cautions }] = [state(name), against(name)]
  if (!at) return ''
  if (stops) return 'stop'
  if (cautions) return 'caution'
  return at.missing.length || !done(name) ? 'note' : 'good'
}
const some = (many: number, what: string) => (many === 0 ? [] : [counted(many, what)])
const hint = (name: Stage) => {
  const at = state(name)
  if (!at) return ''
  const design = [...some(at.stops, 'stop'), ...some(at.cautions, 'caution'), ...at.missing]
  return [...design, ...(far.value.get(name)?.hint ?? [])].join(', ')
}
</script>

<template>
  <nav ref="strip" class="stages" aria-label="Stages">
    <RouterLink
      v-for="(name, at) in STAGES"
      :key="name"
      :to="`/job/${String(route.params.id)}/${name}`"
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
