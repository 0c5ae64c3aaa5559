<script setup lang="ts">
/** A save was refused because the job changed elsewhere: both sides shown, one chosen, nothing merged silently. */
import Button from '../ui/prime/button'
import Dialog from '../ui/prime/dialog'
import { computed } from 'vue'
import { fieldAt } from '../ui/fields'
import { useJob } from './store'

const job = useJob()
interface Difference {
  path: string
  mine: string
  theirs: string
}
const MOST = 12
function differences(mine: unknown, theirs: unknown, path: string, found: Difference[]): void {
  if (JSON.stringify(mine) === JSON.stringify(theirs)) return
  if (typeof mine === 'object' && typeof theirs === 'object' && mine !== null && theirs !== null) {
    const [a, b] = [mine as Record<string, unknown>, theirs as Record<string, unknown>]
    for (const key of new Set([...Object.keys(a), ...Object.keys(b)]))
      differences(a[key], b[key], path ? `${path}.${key}` : key, found)
  } else found.push({ path, mine: show(mine), theirs: show(theirs) })
}
const show = (value: unknown) =>
  value === null || value === undefined
    ? 'none'
    : typeof value === 'object'
      ? JSON.stringify(value).slice(0, 60)
      : String(value)
const rows = computed(() => {
  const found: Difference[] = []
  if (job.stored !== null) {
    differences(
      job.heading,
      { title: job.stored.title, code: job.stored.code, customer: job.stored.customer },
      '',
      found,
    )
    differences(job.design, job.stored.design, '', found)
  }
  return found
})
</script>

<template>
  <Dialog
    :visible="job.saveState === 'stale'"
    modal
    :closable="false"
    header="This job was saved elsewhere since"
    class="stale"
  >
    <p>
      Your entries are kept. The stored job is at version {{ job.stored?.version }}. Choose which to go on with; the
      other stays among the revisions or is put back by undo.
    </p>
    <table v-if="rows.length">
      <thead>
        <tr>
          <th>Where</th>
          <th>On this screen</th>
          <th>Stored</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows.slice(0, MOST)" :key="row.path">
          <td>{{ fieldAt(job.design, row.path).label }}</td>
          <td>{{ row.mine }}</td>
          <td>{{ row.theirs }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="rows.length > MOST" class="muted">and {{ rows.length - MOST }} more places</p>
    <p v-if="rows.length === 0" class="muted">Both say the same.</p>
    <footer>
      <Button label="Take the stored one" severity="secondary" variant="outlined" @click="job.resolveStale(false)" />
      <Button label="Keep mine as the newer version" @click="job.resolveStale(true)" />
    </footer>
  </Dialog>
</template>

<style scoped>
table {
  border-collapse: collapse;
  margin: 12px 0;
  font-size: var(--text);
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 4px 14px 4px 0;
  border-bottom: 1px solid var(--hair);
}
footer {
  display: flex;
  gap: 10px;
  justify-content: flex-end;
  margin-top: 14px;
  flex-wrap: wrap;
}
</style>
