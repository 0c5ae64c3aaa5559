<script setup lang="ts">
/** The yard: jobs found, sorted and paged by the server, each with its next action. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { Refused } from '../api/client'
import AppBar from '../app/AppBar.vue'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'
import LateSelect from '../ui/LateSelect.vue'
import { useStanding } from '../ui/painted'
import JobTable from './JobTable.vue'
import NewJob from './NewJob.vue'
import { readYard, ROWS, useOrder, yardAtHand, type Order } from './reading'

const YardWork = defineAsyncComponent(() => import('./YardWork.vue'))

defineProps<{ night: boolean }>()
const emit = defineEmits<{ night: [] }>()
const typed = ref('')
const sought = refDebounced(typed, 150)
type Stands = 'all' | 'stop' | 'caution' | 'clear' | 'spoilt' | 'service' | 'changed' | 'template' | 'archived'
const stands = ref<Stands>('all')
const order = useOrder()
const begin = ref(0)
const asksWork = ref(false)
const STANDS: { value: Stands; label: string }[] = [
  { value: 'all', label: 'all, however they stand' },
  { value: 'stop', label: '■ with stops' },
  { value: 'caution', label: '▲ with cautions' },
  { value: 'clear', label: '✓ clear' },
  { value: 'spoilt', label: 'not readable' },
  { value: 'service', label: 'with a next service' },
  { value: 'changed', label: 'judged otherwise since saved' },
  { value: 'template', label: 'templates' },
  { value: 'archived', label: 'archived' },
]
const ORDERS: { value: Order; label: string }[] = [
  { value: 'saved', label: 'last saved first' },
  { value: 'title', label: 'by vehicle' },
  { value: 'code', label: 'by number' },
  { value: 'stops', label: 'most stops first' },
  { value: 'service', label: 'next service first' },
]
watch([sought, stands, order], () => {
  begin.value = 0
})
const query = computed(() => ({
  sought: sought.value,
  stands: stands.value === 'all' ? ('' as const) : stands.value,
  order: order.value,
  begin: begin.value,
  rows: ROWS,
}))
const { data, isPending, error, refetch } = useQuery({
  queryKey: computed(() => ['yard', query.value]),
  queryFn: ({ signal }) => readYard(query.value, signal),
  initialData: () => yardAtHand(query.value),
  staleTime: 1000, // what was at hand is not asked for again
  placeholderData: keepPreviousData,
  gcTime: 0,
  meta: { said: true },
})
const standing = useStanding(() => !isPending.value)
const jobs = computed(() => data.value?.jobs ?? [])
const total = computed(() => data.value?.total ?? 0)
const narrowed = computed(() => sought.value !== '' || stands.value !== 'all')
const bare = computed(() => data.value !== undefined && total.value === 0 && !narrowed.value)
const aside = computed(() => {
  if (total.value === 0) return ''
  const what = narrowed.value ? 'found' : 'in the yard'
  if (total.value <= ROWS) return `${total.value} ${what}`
  return `${begin.value + 1} to ${Math.min(begin.value + ROWS, total.value)} of ${total.value} ${what}`
})
</script>

<template>
  <div class="yard">
    <AppBar where="Yard" :night="night" @night="emit('night')" />
    <main>
      <NewJob :bare="bare" :standing="standing" />
      <section class="panel jobs" aria-label="Jobs">
        <div class="bench-head">
          <h2>Jobs</h2>
          <div class="tools">
            <InputText
              v-model="typed"
              size="small"
              type="search"
              placeholder="Find vehicle, number, customer, unit"
              aria-label="Find in the yard"
              autocomplete="off"
              maxlength="120"
              class="find"
            />
            <LateSelect v-model="stands" :options="STANDS" label="Stands at" :alive="standing" />
            <LateSelect v-model="order" :options="ORDERS" label="Order" :alive="standing" />
          </div>
          <span class="aside" data-count>{{ aside }}</span>
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
        <p v-else-if="jobs.length === 0 && !narrowed" class="muted state">
          The yard is empty. Name a vehicle above and start its survey.
        </p>
        <p v-else-if="jobs.length === 0" class="muted state">No job matches that.</p>
        <JobTable v-else :jobs="jobs" />
        <nav v-if="total > ROWS" class="pages" aria-label="Pages of the yard">
          <Button
            label="Earlier rows"
            icon="pi pi-chevron-left"
            size="small"
            severity="secondary"
            variant="outlined"
            :disabled="begin === 0"
            @click="begin = Math.max(0, begin - ROWS)"
          />
          <Button
            label="Further rows"
            icon="pi pi-chevron-right"
            icon-pos="right"
            size="small"
            severity="secondary"
            variant="outlined"
            :disabled="begin + ROWS >= total"
            @click="begin += ROWS"
          />
        </nav>
      </section>
      <details class="panel" @toggle="asksWork = true">
        <summary><b>Over the whole yard</b></summary>
        <YardWork v-if="asksWork" />
      </details>
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
  min-width: 0;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  flex: 1;
}
.find {
  flex: 1 1 220px;
  max-width: 340px;
}
.state {
  padding: 20px 0;
  display: grid;
  gap: 8px;
  justify-items: start;
}
summary {
  cursor: pointer;
  font-size: var(--text);
  margin-bottom: 8px;
}
.pages {
  display: flex;
  justify-content: space-between;
  padding-top: 10px;
}
.duty {
  font-size: var(--text);
}
code {
  font-family: var(--narrow);
}
@media (max-width: 1100px) {
  main {
    padding: 10px;
  }
  .pages :deep(button) {
    min-height: 44px;
  }
}
@media (max-width: 700px) {
  .bench-head {
    flex-wrap: wrap;
    justify-content: space-between;
  }
  .tools {
    order: 9;
    flex-basis: 100%;
  }
  .find {
    flex-basis: 100%;
    max-width: none;
  }
}
</style>
