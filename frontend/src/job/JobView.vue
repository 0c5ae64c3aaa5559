<script setup lang="ts">
/** The job: stages in the bar, the level line, the open bench, the findings. */
import Button from '../ui/prime/button'
import { computed, defineAsyncComponent, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Refused } from '../api/client'
import HandoverBench from '../stages/handover/HandoverBench.vue'
import MatchBench from '../stages/match/MatchBench.vue'
import RunBench from '../stages/run/RunBench.vue'
import SurveyBench from '../stages/survey/SurveyBench.vue'
import ToComeBench from '../stages/to_come/ToComeBench.vue'
import WakeBench from '../stages/wake/WakeBench.vue'
import { useCatalogue } from './catalogue'
import { useKeys } from '../app/keys'
import { inserted, piecesOf, placed, placesOf, removed, shifted, shownAt, split, stepped, stretched } from './pieces'
import { useJob } from './store'
import LevelLine from '../charts/line/LevelLine.vue'
import FindingsPanel from './FindingsPanel.vue'
import SaveMark from './SaveMark.vue'
import { STAGE_LABEL, STAGES, TO_COME, type Stage } from '../app/router'

const WorkingDrawer = defineAsyncComponent(() => import('./WorkingDrawer.vue'))
const KeyList = defineAsyncComponent(() => import('../app/KeyList.vue'))
const StaleDialog = defineAsyncComponent(() => import('./StaleDialog.vue'))
defineProps<{ night: boolean }>()
const emit = defineEmits<{ night: [] }>()
const route = useRoute()
const router = useRouter()
const job = useJob()
const { data: catalogue } = useCatalogue()
const lost = ref('')
const help = ref(false)
const working = ref(false)
const workingName = ref('')
const stage = computed<Stage>(() => STAGES.find((item) => item === route.params.stage) ?? 'survey')
const FIGURES: Record<string, string[]> = {
  survey: ['match.direct_link_a', 'wake.rest_v', 'energy.recover_h'],
  match: [
    'match.allowed_output_a',
    'match.daily_floor_a',
    'match.alternator_share_a',
    'match.alternator_surplus_a',
    'energy.recover_h',
    'charger.heat_w',
  ],
  run: [
    'input.power_w',
    'supply.drop_v',
    'supply.drop_percent',
    'supply.loss_w',
    'delivery.drop_v',
    'charger.heat_w',
    'energy.recover_h',
  ],
  wake: [
    'wake.rest_v',
    'wake.run_unloaded_v',
    'wake.run_loaded_v',
    'wake.stop_window_low_v',
    'wake.stop_window_high_v',
    'wake.guard_v',
    'wake.back_v',
    'wake.guard_mohm',
  ],
  handover: ['idle.input_v', 'idle.input_a', 'output.voltage_v', 'energy.recover_h'],
}
watch(
  () => route.params.id,
  async (id) => {
    lost.value = ''
    try {
      await job.open(Number(id))
      if (stage.value === 'run') pickFirstCable()
    } catch (error) {
      lost.value =
        error instanceof Refused
          ? error.problem.detail
          : 'The server does not answer. Start it again, then reload; what was typed is kept in this browser.'
    }
  },
  { immediate: true },
)
watch(stage, (now) => {
  if (now === 'run') pickFirstCable()
})
watch(
  () => job.heading.title,
  (title) => {
    document.title = title ? `${title} · Olvask` : 'Olvask'
  },
)

function pickFirstCable(): void {
  if (placed(job.design, job.place) !== null || job.design === null) return
  const cable = piecesOf(job.design, 'supply').find((piece) => piece.kind === 'cable')
  if (cable?.id !== undefined) job.place = cable.id
}
const places = computed(() => placesOf(job.design))
const BENCH_FOR: Record<string, Stage> = {
  alternator: 'survey',
  start_battery: 'survey',
  auxiliary: 'survey',
  charger: 'match',
}
function pick(place: string): void {
  const base = shownAt(job.design, place)
  job.place = places.value.includes(base) ? base : 'charger'
  if (placed(job.design, job.place) !== null && stage.value !== 'run') go('run')
  void nextTick(() => {
    document.querySelector<SVGElement>(`[data-place="${job.place}"]`)?.focus()
  })
}
function choose(place: string): void {
  pick(place)
  const bench = BENCH_FOR[place]
  if (bench && stage.value === 'run') go(bench)
}
function go(to: Stage): void {
  void router.push(`/job/${job.id}/${to}`)
}
function show(name: string): void {
  workingName.value = name
  working.value = true
}
const act = (step: { changes: Parameters<typeof job.change>[0]; place: string } | null) => {
  if (step) {
    job.change(step.changes)
    pick(step.place)
  }
}

useKeys({
  walk: (by) => {
    const at = places.value.indexOf(job.place)
    const next = places.value[at + by]
    if (next !== undefined) {
      job.place = next
      void nextTick(() => {
        document.querySelector<SVGElement>(`[data-place="${next}"]`)?.focus()
      })
    }
  },
  step: (by) => {
    if (job.design && catalogue.value) job.change(stepped(job.design, catalogue.value, job.place, by))
  },
  enter: () => {
    const bench = placed(job.design, job.place) === null ? BENCH_FOR[job.place] : 'run'
    if (bench && bench !== stage.value) go(bench)
    void nextTick(() => {
      window.setTimeout(() => document.querySelector<HTMLElement>('.bench input, .bench [role=combobox]')?.focus())
    })
  },
  escape: () => {
    document.querySelector<SVGElement>(`[data-place="${job.place}"]`)?.focus()
  },
  insert: (kind) => {
    if (job.design) act(inserted(job.design, job.place, kind))
  },
  split: () => {
    if (job.design) act(split(job.design, job.place))
  },
  shift: (by) => {
    if (job.design) act(shifted(job.design, job.place, by))
  },
  stretch: (metres) => {
    if (job.design) job.change(stretched(job.design, job.place, metres), `stretch.${job.place}`)
  },
  remove: () => {
    if (job.design) act(removed(job.design, job.place))
  },
  stage: (number) => {
    const to = STAGES[number - 1]
    if (to) go(to)
  },
  condition: () => {
    const all = job.assessment?.conditions ?? []
    const at = all.findIndex((item) => item.key === job.condition)
    job.condition = all[(at + 1) % all.length]?.key ?? 'idle'
  },
  working: () => {
    const focused = document.activeElement?.closest<HTMLElement>('[data-figure]')
    show(focused?.dataset.figure ?? FIGURES[stage.value]?.[0] ?? 'idle.input_v')
  },
  undo: job.undo,
  redo: job.redo,
  night: () => {
    emit('night')
  },
  help: () => {
    help.value = true
  },
})
const state = (name: Stage) => job.assessment?.stages[name]
const mark = (name: Stage) => {
  const at = state(name)
  if (!at || TO_COME.includes(name)) return ''
  return at.stops
    ? `■ ${at.stops}`
    : at.cautions
      ? `▲ ${at.cautions}`
      : at.missing.length
        ? '○'
        : name === 'handover'
          ? ''
          : '✓'
}
const markClass = (name: Stage) => {
  const at = state(name)
  return !at ? '' : at.stops ? 'stop' : at.cautions ? 'caution' : at.missing.length ? 'note' : 'good'
}
const hint = (name: Stage) => (TO_COME.includes(name) ? 'to come' : (state(name)?.missing.join(', ') ?? ''))
</script>

<template>
  <div class="job">
    <header class="bar">
      <RouterLink to="/" class="brand">Olvask</RouterLink>
      <nav class="crumb" aria-label="Where">
        <RouterLink to="/">Yard</RouterLink> /
        <input
          class="title"
          :value="job.heading.title"
          aria-label="Title of the job"
          @input="job.rename({ title: ($event.target as HTMLInputElement).value })"
        />
        <span class="muted">{{ job.heading.code }}</span>
      </nav>
      <nav class="stages" aria-label="Stages">
        <RouterLink
          v-for="(name, at) in STAGES"
          :key="name"
          :to="`/job/${job.id}/${name}`"
          :class="{ open: name === stage, come: TO_COME.includes(name) }"
          :title="hint(name)"
          :aria-current="name === stage ? 'step' : undefined"
          ><small>{{ at + 1 }}</small> {{ STAGE_LABEL[name] }}
          <span :class="markClass(name)">{{ mark(name) }}</span></RouterLink
        >
      </nav>
      <SaveMark />
      <span class="tools">
        <Button
          icon="pi pi-undo"
          aria-label="Undo"
          title="Undo (Ctrl+Z)"
          size="small"
          variant="text"
          severity="secondary"
          :disabled="job.past.length === 0"
          @click="job.undo()"
        />
        <Button
          icon="pi pi-undo"
          class="redo"
          aria-label="Redo"
          title="Redo (Ctrl+Shift+Z)"
          size="small"
          variant="text"
          severity="secondary"
          :disabled="job.future.length === 0"
          @click="job.redo()"
        />
        <Button
          :icon="night ? 'pi pi-sun' : 'pi pi-moon'"
          :aria-label="night ? 'Day' : 'Night'"
          title="Day or night (n)"
          size="small"
          variant="text"
          severity="secondary"
          @click="emit('night')"
        />
        <Button
          label="?"
          aria-label="Keys"
          title="Keys (?)"
          size="small"
          variant="outlined"
          severity="secondary"
          @click="help = true"
        />
      </span>
    </header>
    <main v-if="lost" class="panel lost">
      <p class="stop">
        <b>■ {{ lost }}</b>
      </p>
      <RouterLink to="/">Back to the yard</RouterLink>
    </main>
    <main v-else>
      <LevelLine @pick="choose" @working="show" />
      <div class="below" :class="stage">
        <div class="bench">
          <SurveyBench v-if="stage === 'survey'" />
          <MatchBench v-else-if="stage === 'match'" @working="show" />
          <RunBench v-else-if="stage === 'run'" @pick="pick" />
          <WakeBench v-else-if="stage === 'wake'" />
          <HandoverBench v-else-if="stage === 'handover'" />
          <ToComeBench v-else :stage="stage" />
        </div>
        <FindingsPanel :stage="stage" :figures="FIGURES[stage] ?? []" @working="show" @pick="pick" />
      </div>
    </main>
    <WorkingDrawer v-if="working" v-model:open="working" :name="workingName" @show="show" />
    <KeyList v-if="help" v-model:open="help" />
    <StaleDialog v-if="job.saveState === 'stale'" />
  </div>
</template>

<style scoped>
.job {
  height: 100vh;
  display: flex;
  flex-direction: column;
}
.bar {
  display: flex;
  align-items: center;
  gap: 14px;
  height: 46px;
  flex: none;
  padding: 0 20px;
  border-bottom: 1px solid var(--hair);
}
.brand {
  color: var(--copper);
  font-size: 19px;
  font-weight: 600;
  text-decoration: none;
}
.crumb {
  font-size: 14px;
  color: var(--muted);
  white-space: nowrap;
}
.crumb a {
  color: inherit;
}
.title {
  font-weight: 600;
  color: var(--ink);
  background: none;
  border: 1px solid transparent;
  border-radius: 3px;
  padding: 2px 4px;
  field-sizing: content;
  min-width: 8ch;
  max-width: 26ch;
}
.title:hover,
.title:focus {
  border-color: var(--edge);
  background: var(--field);
}
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
  font-size: 13.5px;
  border-bottom: 3px solid transparent;
  white-space: nowrap;
}
.stages small {
  color: var(--muted);
  font-size: 12px;
}
.stages a span {
  font-size: 12px;
}
.stages a.open {
  border-color: var(--copper);
  font-weight: 600;
}
.stages a.come {
  color: var(--muted);
  text-decoration: underline dotted var(--edge);
  text-underline-offset: 4px;
}
.tools {
  display: flex;
  align-items: center;
  gap: 1px;
}
.redo :deep(.pi) {
  transform: scaleX(-1);
}
main {
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 10px 20px 12px;
}
.lost {
  margin: 20px;
  padding: 24px;
  flex: none;
}
.below {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 264px;
  gap: 10px;
}
.bench {
  min-height: 0;
  min-width: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
}
.bench > * {
  min-width: 0;
}
@media (max-width: 1180px) {
  .bar {
    flex-wrap: wrap;
    height: auto;
    padding: 6px 12px;
    gap: 6px 12px;
  }
  .stages {
    order: 9;
    width: 100%;
    margin: 0;
    overflow-x: auto;
    height: 38px;
  }
  .crumb {
    flex: 1;
    min-width: 0;
    overflow: hidden;
  }
  .title {
    max-width: 17ch;
  }
}
@media (max-width: 900px) {
  .job {
    height: auto;
    min-height: 100vh;
  }
  main {
    padding: 8px;
  }
  .below {
    grid-template-columns: minmax(0, 1fr);
  }
  .stages a {
    min-height: 38px;
    padding: 0 10px;
  }
}
</style>
