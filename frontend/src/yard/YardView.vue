<script setup lang="ts">
/** All jobs, each with its next action. */
import { useQuery } from '@tanstack/vue-query'
import Button from '../ui/prime/button'
import { computed } from 'vue'
import { answered, client, Refused } from '../api/client'
import AppBar from '../app/AppBar.vue'
import JobTable from './JobTable.vue'
import NewJob from './NewJob.vue'

defineProps<{ night: boolean }>()
const emit = defineEmits<{ night: [] }>()
const { data, isPending, error, refetch } = useQuery({
  queryKey: ['yard'],
  queryFn: () => answered(client.GET('/api/jobs')),
  gcTime: 0,
})
const jobs = computed(() => data.value?.jobs ?? [])
</script>

<template>
  <div class="yard">
    <AppBar where="Yard" :night="night" @night="emit('night')" />
    <main>
      <NewJob />
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
        <JobTable v-else :jobs="jobs" />
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
}
</style>
