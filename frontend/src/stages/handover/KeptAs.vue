<script setup lang="ts">
/** How the yard keeps this job: in sight or put away, as a template, and its next service. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client, whyOf } from '../../api/client'
import { fieldOf } from '../../ui/fields'
import { date } from '../../ui/locale'
import { useJob } from '../../job/store'

const job = useJob()
const queries = useQueryClient()
const key = computed(() => ['shelved', job.id])
const { data } = useQuery({
  queryKey: key,
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/shelved', { params: { path: { job_id: job.id } } })),
  enabled: computed(() => job.id > 0),
  gcTime: 0,
})
const trouble = ref('')
async function set(what: 'archived' | 'template', value: boolean): Promise<void> {
  if (!data.value) return
  trouble.value = ''
  const mine = key.value
  const body = { archived: data.value.archived, template: data.value.template, [what]: value }
  try {
    const kept = await answered(
      client.PUT('/api/jobs/{job_id}/shelved', { params: { path: { job_id: job.id } }, body }),
    )
    queries.setQueryData(mine, kept)
    await queries.invalidateQueries({ queryKey: ['yard'] })
  } catch (error) {
    trouble.value = whyOf(error, 'The server does not answer; the yard keeps it as before.')
  }
}
const SOON_MS = 30 * 86_400_000
const due = computed(() => (data.value?.service_due ? new Date(`${data.value.service_due}T12:00:00`) : null))
const late = computed(() => due.value !== null && due.value.getTime() < Date.now())
const soon = computed(() => due.value !== null && due.value.getTime() < Date.now() + SOON_MS)
</script>

<template>
  <section v-if="data" class="panel stacked" aria-label="In the yard">
    <div class="bench-head"><h2>In the yard</h2></div>
    <p v-if="due" :class="{ caution: soon }" data-service>
      {{ soon ? '▲ ' : '' }}{{ late ? 'Its service was due on' : 'Next service on' }} {{ date(due) }}.
    </p>
    <p v-else class="muted">No next service is noted; the logbook takes its date.</p>
    <label v-for="what in ['archived', 'template'] as const" :key="what">
      <input
        type="checkbox"
        :checked="data[what]"
        :data-shelve="what"
        @change="set(what, ($event.target as HTMLInputElement).checked)"
      />
      {{ fieldOf(`shelve.${what}`).label }}
    </label>
    <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
  </section>
</template>

<style scoped>
label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
}
</style>
