<script setup lang="ts">
/** Every revision, and what changed from one to the next in the words of the design. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client } from '../../api/client'
import { dateClock, said } from '../../ui/locale'
import { useJob } from '../../job/store'
import { asking } from '../../ui/asking'

const job = useJob()
const { data } = useQuery({
  queryKey: ['revisions', computed(() => job.id), computed(() => job.version)],
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/revisions', { params: { path: { job_id: job.id } } })),
  enabled: computed(() => job.id > 0),
  gcTime: 0,
})
const revisions = computed(() => data.value?.revisions ?? [])
const open = ref<number | null>(null)
const { data: changes } = useQuery({
  queryKey: ['changes', computed(() => job.id), open],
  queryFn: () =>
    answered(
      client.GET('/api/jobs/{job_id}/changes/{earlier}/{later}', {
        params: { path: { job_id: job.id, earlier: (open.value ?? 2) - 1, later: open.value ?? 2 } },
      }),
    ),
  enabled: computed(() => job.id > 0 && open.value !== null),
  gcTime: 0,
})
const asked = asking(() => job.id)
async function bringBack(version: number): Promise<void> {
  const counts = asked()
  const old = await answered(
    client.GET('/api/jobs/{job_id}/revisions/{version}', { params: { path: { job_id: job.id, version } } }),
  )
  if (counts()) job.change([...Object.entries(old.design)].map(([path, value]) => ({ path, value })))
}
const told = (item: NonNullable<typeof changes.value>['changes'][number]) =>
  item.how === 'changed' ? `${item.what}: ${item.before} → ${item.after}` : `${item.what} ${item.how}`
</script>

<template>
  <section class="panel" aria-label="Revisions">
    <div class="bench-head">
      <h2>Revisions</h2>
      <span class="aside">every save is kept</span>
    </div>
    <table>
      <tbody>
        <template v-for="item in revisions" :key="item.version">
          <tr>
            <th scope="row">{{ item.version }}</th>
            <td>{{ dateClock(item.saved_at) }}</td>
            <td>
              {{ item.title }}<span v-if="item.by" class="muted"> · {{ item.by }}</span>
            </td>
            <td class="do">
              <button
                v-if="item.version > 1"
                type="button"
                class="link"
                :aria-expanded="open === item.version"
                :aria-label="`what changed in version ${item.version}`"
                @click="open = open === item.version ? null : item.version"
              >
                changes
              </button>
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
          <tr v-if="open === item.version && changes" data-changes>
            <td colspan="4">
              <p v-if="changes.changes.length === 0" class="muted">Nothing of the design changed.</p>
              <p v-for="change in changes.changes" :key="change.path">
                <span class="muted">{{ change.area }}:</span> {{ said(told(change)) }}
              </p>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
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
.do {
  display: flex;
  align-items: baseline;
  gap: 12px;
}
</style>
