<script setup lang="ts">
/** Jobs, each with how it stands and its next action. */
import type { JobCard } from '../api/types'
import { jobsKept } from '../job/draft'
import { clock, date, dateOf, day, said } from '../ui/locale'
import LineFace from './LineFace.vue'
import { counted } from '../ui/counted'

defineProps<{ jobs: JobCard[] }>()
const kept = jobsKept()
const when = (text: string) => {
  const moment = new Date(text)
  const thisYear = moment.getFullYear() === new Date().getFullYear()
  return thisYear ? `${day(moment)} ${clock(moment)}` : date(moment)
}
const SOON_MS = 30 * 86_400_000
const due = (day: string) => new Date(`${day}T12:00`).getTime() < Date.now() + SOON_MS
const stageOf = (label: string) => label.toLowerCase().replace(' ', '')
</script>

<template>
  <table>
    <thead>
      <tr>
        <th class="wide">At hot idle</th>
        <th>Vehicle</th>
        <th>Number</th>
        <th class="wide">Customer</th>
        <th class="wide">System</th>
        <th class="wide">Unit</th>
        <th>Stands at</th>
        <th>Next</th>
        <th class="wide">Saved</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="job in jobs" :key="job.id" :data-job="job.id">
        <td class="wide face"><LineFace :volts="job.line ?? []" :stops="job.stops" /></td>
        <th scope="row">
          <RouterLink :to="`/job/${job.id}/${stageOf(job.next_stage)}`">{{ job.title }}</RouterLink>
          <small v-if="job.template" class="muted kept">template</small>
          <small v-if="kept.has(job.id)" class="caution kept" data-kept>▲ entries not stored yet: open it</small>
        </th>
        <td class="code">{{ job.code }}</td>
        <td class="wide">{{ job.customer }}</td>
        <td class="wide">{{ said(job.vehicle) }}</td>
        <td class="wide code">{{ job.unit || (job.spoilt ? '' : 'not chosen') }}</td>
        <td class="stands">
          <span v-if="job.spoilt" class="stop">■ not readable</span
          ><span v-if="job.stops" class="stop">■ {{ counted(job.stops, 'stop') }}</span
          ><span v-if="job.cautions" class="caution"> ▲ {{ counted(job.cautions, 'caution') }}</span
          ><span v-if="!job.spoilt && !job.stops && !job.cautions" :class="job.unit ? 'good' : 'muted'">{{
            job.unit ? '✓ clear' : '○ no unit'
          }}</span>
        </td>
        <td v-if="job.spoilt" data-spoilt>
          {{ job.spoilt }} <a :href="`/api/jobs/${job.id}/file`" download>Take the job file</a>
        </td>
        <td>
          <span v-if="job.signed" class="good" data-signed>✓ Signed off</span>
          <template v-else
            ><b>{{ job.next_stage }}:</b> {{ job.next_action }}</template
          >
          <small v-for="line in job.changed" :key="line" class="caution" data-changed
            >▲ {{ line.startsWith('+') ? 'new since saved' : 'gone since saved' }}: {{ line.slice(1) }}</small
          >
          <small v-if="job.service_due" :class="{ caution: due(job.service_due) }" data-service-due
            >{{ due(job.service_due) ? '▲ ' : '' }}service {{ dateOf(job.service_due) }}</small
          >
        </td>
        <td class="wide muted code">{{ when(job.saved_at) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.kept {
  display: block;
  font-weight: 500;
}
table {
  width: 100%;
  border-collapse: collapse;
}
thead th {
  text-align: left;
  color: var(--muted);
  font-weight: 500;
  font-size: var(--text);
  padding: 2px 12px 5px 0;
  border-bottom: 1px solid var(--edge);
}
tbody th,
td {
  text-align: left;
  padding: 9px 12px 9px 0;
  border-bottom: 1px solid var(--hair);
  vertical-align: top;
  font-size: var(--lead);
}
tbody th {
  font-weight: 600;
  font-size: var(--lead);
}
tbody tr:hover > * {
  background: var(--field);
}
small {
  display: block;
  font-size: var(--text);
}
.face {
  padding-top: 6px;
}
.code,
.stands {
  white-space: nowrap;
}
.stands {
  font-weight: 600;
}
@media (max-width: 1100px) {
  .wide {
    display: none;
  }
  thead {
    display: none;
  }
  tbody tr {
    display: grid;
    grid-template-columns: 1fr auto;
    border-bottom: 1px solid var(--edge);
    padding: 8px 0;
  }
  tbody th,
  td {
    border: 0;
    padding: 2px 6px 2px 0;
  }
  td:nth-of-type(7) {
    grid-column: 1 / -1;
  }
}
</style>
