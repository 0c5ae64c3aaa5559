<script setup lang="ts">
/** Logs of devices: those that were taken in, one more, and what the chosen one says. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, client } from '../../../api/client'
import { useJob } from '../../../job/store'
import { date, whole } from '../../../ui/locale'
import LogSays from './LogSays.vue'
import LogTake from './LogTake.vue'

const job = useJob()
const queries = useQueryClient()
const { data, isFetched } = useQuery({
  queryKey: computed(() => ['device-logs', job.id]),
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/logs', { params: { path: { job_id: job.id } } })),
  enabled: computed(() => job.id > 0),
})
const shown = ref<number | null>(null)
const more = ref(false)
watch(
  data,
  (found) => {
    if (!found?.logs.some((item) => item.id === shown.value)) shown.value = found?.logs[0]?.id ?? null
  },
  { immediate: true },
)
const adding = computed(() => more.value || (isFetched.value && !data.value?.logs.length))
async function taken(number: number): Promise<void> {
  await queries.invalidateQueries({ queryKey: ['device-logs', job.id] })
  shown.value = number
  more.value = false
}
async function drop(number: number): Promise<void> {
  await answered(client.DELETE('/api/jobs/{job_id}/logs/{log}', { params: { path: { job_id: job.id, log: number } } }))
  await queries.invalidateQueries({ queryKey: ['device-logs', job.id] })
}
const on = (seconds: number) => date(new Date(seconds * 1000))
</script>

<template>
  <div class="logs">
    <section v-if="data?.logs.length" class="panel" aria-label="Logs of this vehicle">
      <div class="bench-head">
        <h2>Device logs</h2>
        <button type="button" class="link aside" data-log-more @click="more = !more">
          {{ more ? 'not now' : 'take another in' }}
        </button>
      </div>
      <ul>
        <li v-for="log in data.logs" :key="log.id" :class="{ on: log.id === shown }">
          <button type="button" class="link" :aria-pressed="log.id === shown" data-log-pick @click="shown = log.id">
            {{ on(log.begins_s) }} to {{ on(log.ends_s) }}
          </button>
          <span class="muted">{{ log.name }} · {{ whole(log.rows) }} rows</span>
          <button type="button" class="link" :aria-label="`take out ${log.name}`" @click="drop(log.id)">
            take out
          </button>
        </li>
      </ul>
    </section>
    <LogTake v-if="adding" @taken="taken" />
    <LogSays v-if="shown !== null" :key="shown" :log="shown" />
  </div>
</template>

<style scoped>
.logs {
  display: grid;
  gap: 10px;
  grid-auto-rows: max-content;
  grid-template-columns: minmax(0, 1fr);
  min-height: 0;
  overflow: auto;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
  font-size: var(--text);
}
li {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  padding: 3px 0;
}
li.on > :first-child {
  font-weight: 600;
}
</style>
