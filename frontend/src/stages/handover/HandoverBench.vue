<script setup lang="ts">
/** What leaves the workshop: the sheet, the diagram, the job file, and every revision. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '../../api/client'
import { clock, date } from '../../ui/locale'
import { useJob } from '../../job/store'

const job = useJob()
const { data } = useQuery({
  queryKey: ['revisions', computed(() => job.id), computed(() => job.version)],
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/revisions', { params: { path: { job_id: job.id } } })),
  enabled: computed(() => job.id > 0),
  gcTime: 0,
})
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
  { file: 'schematic.svg', label: 'Wiring diagram', kind: 'SVG', what: 'Drawn from this design.' },
  { file: 'file', label: 'Job file', kind: 'JSON', what: 'The whole job, to keep, or to import elsewhere.' },
]
async function bringBack(version: number): Promise<void> {
  const old = await answered(
    client.GET('/api/jobs/{job_id}/revisions/{version}', { params: { path: { job_id: job.id, version } } }),
  )
  job.change([...Object.entries(old.design)].map(([path, value]) => ({ path, value })))
}
</script>

<template>
  <div class="handover">
    <section class="panel" aria-label="Papers">
      <div class="bench-head">
        <h2>Papers</h2>
        <span class="aside">from the stored version {{ job.version }}</span>
      </div>
      <p v-if="stops" class="warn" role="note">
        ■ {{ stops }} {{ stops === 1 ? 'stop is' : 'stops are' }} open. The sheet says so at its head: not to be built
        as it stands.
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
    <section class="panel" aria-label="Revisions">
      <div class="bench-head">
        <h2>Revisions</h2>
        <span class="aside">every save is kept</span>
      </div>
      <table>
        <tbody>
          <tr v-for="item in data?.revisions ?? []" :key="item.version">
            <th scope="row">{{ item.version }}</th>
            <td>{{ date(new Date(item.saved_at)) }} {{ clock(new Date(item.saved_at)) }}</td>
            <td>{{ item.title }}</td>
            <td>
              <button
                v-if="item.version !== job.version"
                type="button"
                class="link"
                :aria-label="`restore version ${item.version}`"
                @click="bringBack(item.version)"
              >
                restore</button
              ><span v-else class="muted">now</span>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.handover {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
  min-height: 0;
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
table {
  border-collapse: collapse;
  font-size: var(--text);
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 4px 10px 4px 0;
  border-bottom: 1px solid var(--hair);
}
@media (max-width: 1100px) {
  .handover {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
