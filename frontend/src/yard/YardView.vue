<script setup lang="ts">
/** All jobs, each with its next action. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, client, refusal, Refused } from '../api/client'
import type { EntryError, Job } from '../api/types'
import { clock } from '../ui/format'
import AppBar from '../app/AppBar.vue'

defineProps<{ night: boolean }>()
const emit = defineEmits<{ night: [] }>()
const router = useRouter()
const queries = useQueryClient()
const { data, isPending, error, refetch } = useQuery({
  queryKey: ['yard'],
  queryFn: () => answered(client.GET('/api/jobs')),
  gcTime: 0,
})
const jobs = computed(() => data.value?.jobs ?? [])
const title = ref('')
const code = ref('')
const picker = ref<HTMLInputElement | null>(null)
const refused = ref<{ title: string; errors: EntryError[] } | null>(null)

async function enter(job: Job, stage: string): Promise<void> {
  await queries.invalidateQueries({ queryKey: ['yard'] })
  await router.push(`/job/${job.id}/${stage}`)
}
function refuse(reason: unknown): void {
  refused.value =
    reason instanceof Refused
      ? {
          title: reason.problem.title,
          errors: reason.problem.errors.length
            ? reason.problem.errors
            : [{ path: '', field: '', message: reason.problem.detail }],
        }
      : {
          title: 'The server does not answer',
          errors: [{ path: '', field: '', message: 'Nothing was stored; what you typed is still here. Try again.' }],
        }
}
const begin = useMutation({
  mutationFn: () =>
    answered(
      client.POST('/api/jobs', {
        body: { title: title.value.trim(), code: code.value.trim(), customer: '', design: null },
      }),
    ),
  onSuccess: (job: Job) => enter(job, 'survey'),
  onError: refuse,
})
async function send(file: File): Promise<Job> {
  let response: Response
  try {
    response = await fetch('/api/jobs/import', {
      method: 'POST',
      body: file,
      headers: { 'Content-Type': 'application/json' },
    })
  } catch {
    throw new Error('unreachable')
  }
  const answer: unknown = await response.json()
  if (!response.ok) throw refusal(answer, response.status)
  return answer as Job
}
const take = useMutation({ mutationFn: send, onSuccess: (job: Job) => enter(job, 'survey'), onError: refuse })
function picked(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  refused.value = null
  if (file) take.mutate(file)
  input.value = ''
}
function submit(): void {
  refused.value = null
  begin.mutate()
}
const when = (text: string) => {
  const at = new Date(`${text}Z`)
  return `${at.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${clock(at)}`
}
const stageOf = (label: string) => label.toLowerCase().replace(' ', '')
const titleFault = computed(() => refused.value?.errors.find((item) => item.path === 'title')?.message ?? '')
</script>

<template>
  <div class="yard">
    <AppBar where="Yard" :night="night" @night="emit('night')" />
    <main>
      <section class="panel new" aria-label="New job">
        <form @submit.prevent="submit">
          <h2>New job</h2>
          <div class="pair">
            <label for="new-title">Vehicle</label
            ><InputText
              id="new-title"
              v-model="title"
              size="small"
              autocomplete="off"
              placeholder="such as Milk float"
              :invalid="titleFault !== ''"
              maxlength="200"
              aria-describedby="new-error"
            />
          </div>
          <div class="pair">
            <label for="new-code">Job number</label
            ><InputText
              id="new-code"
              v-model="code"
              size="small"
              autocomplete="off"
              placeholder="optional"
              maxlength="80"
            />
          </div>
          <Button
            type="submit"
            label="Start the survey"
            icon="pi pi-plus"
            size="small"
            :loading="begin.isPending.value"
          />
          <span class="or muted">or</span>
          <input
            ref="picker"
            type="file"
            accept=".json,application/json"
            class="visually-hidden"
            tabindex="-1"
            aria-label="Job file"
            @change="picked"
          />
          <Button
            label="Import a job file"
            icon="pi pi-upload"
            size="small"
            severity="secondary"
            variant="outlined"
            :loading="take.isPending.value"
            @click="picker?.click()"
          />
        </form>
        <div v-if="refused" id="new-error" class="refused" role="alert">
          <p class="stop">
            <b>■ {{ refused.title }}.</b> Nothing was stored.
          </p>
          <ul>
            <li v-for="wrong in refused.errors.slice(0, 40)" :key="wrong.path + wrong.message">
              <b v-if="wrong.field">{{ wrong.field }}</b> <code v-if="wrong.path">{{ wrong.path }}</code>
              {{ wrong.message }}
            </li>
          </ul>
          <p v-if="refused.errors.length > 40" class="muted">and {{ refused.errors.length - 40 }} more</p>
        </div>
      </section>
      <section class="panel jobs" aria-label="Jobs">
        <div class="bench-head">
          <h2>Jobs</h2>
          <span class="aside">{{ jobs.length ? `${jobs.length} in the yard` : '' }}</span>
        </div>
        <p v-if="isPending" class="muted state" role="status">Fetching the yard…</p>
        <div v-else-if="error" class="state">
          <p class="stop">
            <b>■ {{ error instanceof Refused ? `${error.problem.title}.` : 'The server does not answer.' }}</b>
          </p>
          <p v-if="error instanceof Refused" class="muted">{{ error.problem.detail }}</p>
          <p v-else class="muted">
            Start it again with <code>make demo</code>, then try once more. Nothing stored is lost.
          </p>
          <Button label="Try again" size="small" @click="refetch()" />
        </div>
        <p v-else-if="jobs.length === 0" class="muted state">
          The yard is empty. Name a vehicle above and start its survey.
        </p>
        <table v-else>
          <thead>
            <tr>
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
              <th scope="row">
                <RouterLink :to="`/job/${job.id}/${stageOf(job.next_stage)}`">{{ job.title }}</RouterLink>
              </th>
              <td class="code">{{ job.code }}</td>
              <td class="wide">{{ job.customer }}</td>
              <td class="wide">{{ job.vehicle }}</td>
              <td class="wide code">{{ job.unit || (job.spoilt ? '' : 'not chosen') }}</td>
              <td class="stands">
                <span v-if="job.spoilt" class="stop">■ not readable</span
                ><span v-if="job.stops" class="stop">■ {{ job.stops }} {{ job.stops === 1 ? 'stop' : 'stops' }}</span
                ><span v-if="job.cautions" class="caution">
                  ▲ {{ job.cautions }} {{ job.cautions === 1 ? 'caution' : 'cautions' }}</span
                ><span v-if="!job.spoilt && !job.stops && !job.cautions" class="good">✓ clear</span>
              </td>
              <td v-if="job.spoilt" data-spoilt>
                {{ job.spoilt }} <a :href="`/api/jobs/${job.id}/file`" download>Take the job file</a>
              </td>
              <td v-else>
                <b>{{ job.next_stage }}:</b> {{ job.next_action }}
              </td>
              <td class="wide muted code">{{ when(job.saved_at) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <p class="duty muted">Olvask is an aid to a competent person. Local code and the makers' instructions rule.</p>
    </main>
  </div>
</template>

<style scoped>
main {
  padding: 14px 24px 30px;
  display: grid;
  gap: 12px;
  max-width: 1320px;
  margin: 0 auto;
}
.panel {
  padding: 12px 14px;
}
form {
  display: flex;
  align-items: center;
  gap: 14px;
  flex-wrap: wrap;
}
.pair {
  display: flex;
  align-items: center;
  gap: 8px;
  font-size: var(--text);
}
.pair label {
  color: var(--muted);
}
.refused {
  margin-top: 12px;
  font-size: var(--text);
}
.refused ul {
  margin: 6px 0 0;
  padding-left: 18px;
  display: grid;
  gap: 3px;
}
code {
  font-family: var(--narrow);
  background: var(--field);
  padding: 0 4px;
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
.code,
.stands {
  white-space: nowrap;
}
.stands {
  font-weight: 600;
}
.state {
  padding: 20px 0;
  display: grid;
  gap: 8px;
  justify-items: start;
}
.duty {
  font-size: var(--text);
}
@media (max-width: 1000px) {
  main {
    padding: 10px;
  }
  .wide {
    display: none;
  }
  form {
    display: grid;
    justify-items: stretch;
  }
  .pair {
    display: grid;
    gap: 3px;
  }
  .or {
    text-align: center;
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
  td:nth-of-type(6) {
    grid-column: 1 / -1;
  }
}
</style>
