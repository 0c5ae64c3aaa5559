<script setup lang="ts">
/** The job: stages in the bar, the level line, the open bench, the findings. */
import { useFocusBack } from '../ui/focusBack'
import { useMediaQuery, useStorage } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Refused } from '../api/client'
import type { Finding } from '../api/types'
import MatchBench from '../stages/match/MatchBench.vue'
import RunBench from '../stages/run/RunBench.vue'
import SurveyBench from '../stages/survey/SurveyBench.vue'
import WakeBench from '../stages/wake/WakeBench.vue'
import { useEditing } from './editing'
import { FIGURES } from './figures'
import JobBar from './JobBar.vue'
import { useKeys } from '../app/keys'
import { piecesOf, placed } from './pieces'
import { useJob } from './store'
import LevelLine from '../charts/line/LevelLine.vue'
import FindingsPanel from './FindingsPanel.vue'
import { STAGES, type Stage } from '../app/router'
import { intoSight } from '../ui/intoSight'

const BuildBench = defineAsyncComponent(() => import('../stages/build/BuildBench.vue'))
const HandoverBench = defineAsyncComponent(() => import('../stages/handover/HandoverBench.vue'))
const SettingsBench = defineAsyncComponent(() => import('../stages/settings/SettingsBench.vue'))
const ProveBench = defineAsyncComponent(() => import('../stages/prove/ProveBench.vue'))
const WorkingDrawer = defineAsyncComponent(() => import('./WorkingDrawer.vue'))
const KeyList = defineAsyncComponent(() => import('../app/KeyList.vue'))
const StaleDialog = defineAsyncComponent(() => import('./StaleDialog.vue'))
defineProps<{ night: boolean }>()
const emit = defineEmits<{ night: [] }>()
const route = useRoute()
const router = useRouter()
const job = useJob()
const lost = ref('')
/** The benches are made once, with what they show; where the server is slow, without. */
const ready = ref(false)
const PATIENCE_MS = 400
window.setTimeout(() => {
  ready.value = true
}, PATIENCE_MS)
const help = ref(false)
const working = ref(false)
const workingName = ref('')
const stage = computed<Stage>(() => STAGES.find((item) => item === route.params.stage) ?? 'survey')
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
    ready.value = true
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
function go(to: Stage): void {
  void router.push(`/job/${String(route.params.id)}/${to}`)
}
function show(name: string): void {
  workingName.value = name
  working.value = true
}
/** Stages that are mostly entry begin with the line folded to a strip; what is chosen is remembered for each. */
const MOSTLY_ENTRY: readonly Stage[] = ['survey', 'settings', 'build', 'prove', 'handover']
const narrow = useMediaQuery('(max-width: 700px)') // there the first field must be in reach
const tall = useMediaQuery('(min-height: 860px)') // the measured line is Prove's face, where there is room for it
const folds = useStorage<Partial<Record<Stage, boolean>>>('olvask.line.folded', {})
const lineFolded = computed({
  get: () =>
    folds.value[stage.value] ??
    (narrow.value || (MOSTLY_ENTRY.includes(stage.value) && !(stage.value === 'prove' && tall.value))),
  set: (folded) => {
    folds.value = { ...folds.value, [stage.value]: folded }
  },
})
useFocusBack(working)
useFocusBack(help)
const findingsFolded = useStorage('olvask.findings.folded', false)
const { pick, choose, ...pieces } = useEditing(stage, go)
/** On the line a finding's place is in sight; where the line is folded, the stage is opened in which it is decided. */
function toFinding(finding: Finding): void {
  const to = STAGES.find((item) => item === finding.stage) ?? stage.value
  if (!lineFolded.value || to === 'run') pick(finding.place)
  if (!lineFolded.value) return
  if (to !== stage.value) go(to)
  void intoSight('[data-bench]')
}
useKeys({
  ...pieces,
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
  fold: () => {
    lineFolded.value = !lineFolded.value
  },
  foldFindings: () => {
    findingsFolded.value = !findingsFolded.value
  },
})
</script>

<template>
  <div class="job">
    <JobBar :stage="stage" :night="night" @night="emit('night')" @help="help = true" />
    <main v-if="lost" class="panel lost">
      <p class="stop">
        <b>■ {{ lost }}</b>
      </p>
      <RouterLink to="/">Back to the yard</RouterLink>
    </main>
    <main v-else-if="ready">
      <LevelLine
        v-if="!(narrow && (stage === 'build' || stage === 'prove'))"
        v-model:folded="lineFolded"
        @pick="choose"
        @working="show"
      />
      <div class="below" :class="[stage, { slim: findingsFolded }]">
        <div :key="String(route.params.id)" class="bench" data-bench>
          <SurveyBench v-if="stage === 'survey'" />
          <MatchBench v-else-if="stage === 'match'" @working="show" />
          <RunBench v-else-if="stage === 'run'" @pick="pick" />
          <WakeBench v-else-if="stage === 'wake'" />
          <SettingsBench v-else-if="stage === 'settings'" />
          <BuildBench v-else-if="stage === 'build'" @pick="choose" />
          <HandoverBench v-else-if="stage === 'handover'" />
          <ProveBench v-else />
        </div>
        <FindingsPanel
          v-model:folded="findingsFolded"
          :stage="stage"
          :figures="FIGURES[stage] ?? []"
          @working="show"
          @pick="toFinding"
        />
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
.below.slim {
  grid-template-columns: minmax(0, 1fr) 46px;
}
@media (max-width: 1100px) {
  .job {
    height: auto;
    min-height: 100vh;
  }
  main {
    padding: 8px;
  }
  .below,
  .below.slim {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
