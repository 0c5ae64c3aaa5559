<script setup lang="ts">
/** What leaves the workshop: the sheet, the diagram, the job file, and every revision. */
import { useQuery } from '@tanstack/vue-query'
import { useSessionStorage } from '@vueuse/core'
import { computed, defineAsyncComponent } from 'vue'
import { answered, client } from '../../api/client'
import { useJob } from '../../job/store'
import BenchPages from '../../ui/BenchPages.vue'
import HouseDiffers from '../../house/HouseDiffers.vue'
import KeepHere from '../../vehicle/KeepHere.vue'
import KeptAs from './KeptAs.vue'
import NextVehicle from './NextVehicle.vue'
import RevisionList from './RevisionList.vue'
import SignOff from './SignOff.vue'
import { counted } from '../../ui/counted'

const LogBook = defineAsyncComponent(() => import('./LogBook.vue'))
const LogPanel = defineAsyncComponent(() => import('./logs/LogPanel.vue'))
type Page = 'papers' | 'logbook' | 'logs'
const page = useSessionStorage<Page>('olvask.handover', 'papers')
const PAGES: { key: Page; label: string }[] = [
  { key: 'papers', label: 'Papers and sign-off' },
  { key: 'logbook', label: 'Logbook' },
  { key: 'logs', label: 'Device logs' },
]
const job = useJob()
const { data: left } = useQuery({
  queryKey: ['build-left', computed(() => job.id), computed(() => job.version)],
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/build/left', { params: { path: { job_id: job.id } } })),
  enabled: computed(() => job.id > 0),
  gcTime: 0,
})
const stops = computed(() => job.assessment?.findings.filter((item) => item.level === 'stop').length ?? 0)
const PAPERS = [
  {
    file: 'sheet.pdf',
    label: 'Hand-over sheet',
    kind: 'PDF, one page',
    what: 'Schematic, expected values, settings, cables, findings, cautions, sign-off.',
  },
  {
    file: 'report.pdf',
    label: "Installer's report",
    kind: 'PDF',
    what: 'Everything of this revision: design, workings, diagram, schedules, settings, tests, findings, checksum.',
  },
  {
    file: 'customer.pdf',
    label: "Customer's page",
    kind: 'PDF, one page',
    what: 'What was fitted and how to live with it, in plain words.',
  },
  { file: 'schematic.svg', label: 'Wiring diagram', kind: 'SVG', what: 'Drawn from this design.' },
  { file: 'file', label: 'Job file', kind: 'JSON', what: 'The whole job, to keep, or to import elsewhere.' },
]
</script>

<template>
  <BenchPages v-model="page" :pages="PAGES" name="Hand over pages">
    <LogBook v-if="page === 'logbook'" />
    <LogPanel v-else-if="page === 'logs'" />
    <div v-else class="handover">
      <section class="panel" aria-label="Papers">
        <div class="bench-head">
          <h2>Papers</h2>
          <span class="aside">from the stored version {{ job.version }}</span>
        </div>
        <p v-if="stops" class="warn" role="note">
          ■ {{ counted(stops, 'stop is', 'stops are') }} open. The sheet says so at its head: not to be built as it
          stands.
        </p>
        <ul>
          <li v-for="paper in PAPERS" :key="paper.file">
            <a :href="`/api/jobs/${job.id}/${paper.file}`" target="_blank" rel="noopener" :data-paper="paper.file">{{
              paper.label
            }}</a>
            <span class="muted">{{ paper.kind }}</span>
            <p>{{ paper.what }}</p>
          </li>
        </ul>
        <p class="muted small">
          Local code and the makers' instructions rule; the papers are an aid to a competent person.
        </p>
      </section>
      <SignOff />
      <section v-if="left?.begun" class="panel" aria-label="Left of the work">
        <div class="bench-head">
          <h2>Left of the work</h2>
          <span class="aside" :class="left.steps.length ? 'caution' : 'good'">{{
            left.steps.length ? `${left.steps.length} of ${left.total} steps` : '✓ every step is done'
          }}</span>
        </div>
        <ul class="left">
          <li v-for="item in left.steps" :key="item.step">
            <RouterLink :to="`/job/${job.id}/build`">{{ item.number }} {{ item.text }}</RouterLink>
            <span v-if="item.skipped" class="caution">
              skipped{{ item.by.length ? ` by ${item.by.join(' and ')}` : '' }}: {{ item.reason }}</span
            >
          </li>
        </ul>
      </section>
      <RevisionList />
      <NextVehicle />
      <KeptAs />
      <KeepHere />
      <HouseDiffers />
    </div>
  </BenchPages>
</template>

<style scoped>
.handover {
  display: grid;
  grid-template-columns: 1fr 1fr;
  grid-auto-rows: max-content; /* all of every panel; the bench scrolls */
  gap: 10px;
  min-height: 0;
  overflow-y: auto;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 10px;
}
.left {
  gap: 4px;
  font-size: var(--text);
}
.left a {
  font-weight: 400;
  font-size: var(--text);
}
li a {
  font-weight: 600;
  font-size: var(--head);
}
li p {
  font-size: var(--text);
  color: var(--muted);
}
.warn {
  color: var(--madder);
  font-weight: 600;
  font-size: var(--text);
  margin-bottom: 10px;
}
.small {
  font-size: var(--text);
  margin-top: 12px;
}
@media (max-width: 1100px) {
  .handover {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
