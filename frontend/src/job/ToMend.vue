<script setup lang="ts">
/** What keeps the job from being saved, each by its field: gone to where it is in sight, or what stood there put back. */
import Button from '../ui/prime/button'
import Dialog from '../ui/prime/dialog'
import { computed } from 'vue'
import { focusWhenThere } from '../ui/focus'
import { said } from '../ui/locale'
import { getAt } from './path'
import { useJob } from './store'

const MOST = 12
const open = defineModel<boolean>({ required: true })
const job = useJob()
const inFields = (path: string) => `[data-path="${path}"] :is(input, [role='combobox'])`
/** Nothing of it is drawn where its field is folded away with what it belongs to, or on another page. */
const inSight = (path: string) => (document.querySelector(inFields(path))?.getClientRects().length ?? 0) > 0
const rows = computed(() =>
  open.value
    ? [...job.errors.values()].map((error) => ({
        ...error,
        there: inSight(error.path),
        before: getAt(job.judged, error.path) ?? null,
      }))
    : [],
)
function goTo(path: string): void {
  open.value = false
  void focusWhenThere(inFields(path))
}
function putBack(path: string, value: unknown): void {
  const origin = job.judged?.provenance?.[path] ?? null
  job.change([
    { path, value },
    { path: 'provenance', value: job.withProvenance(path, origin) },
  ])
  if (job.errors.size > 1) return
  open.value = false
  void focusWhenThere('[data-save]') // the button that opened this goes with its reason
}
</script>

<template>
  <Dialog v-model:visible="open" modal dismissable-mask header="To mend before it is saved" class="to-mend">
    <ul>
      <li v-for="row in rows.slice(0, MOST)" :key="row.path" :data-mend="row.path">
        <p>
          <b>{{ row.field }}</b> <span class="stop">■ {{ said(row.message) }}</span>
        </p>
        <div class="ways">
          <Button v-if="row.there" label="Go to it" size="small" @click="goTo(row.path)" />
          <Button
            v-if="!['title', 'code', 'customer'].includes(row.path)"
            label="Put back what was there"
            size="small"
            severity="secondary"
            variant="outlined"
            @click="putBack(row.path, row.before)"
          />
        </div>
      </li>
    </ul>
    <p v-if="rows.length > MOST" class="muted">and {{ rows.length - MOST }} more</p>
  </Dialog>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 14px;
  max-width: 60ch;
}
p {
  margin: 0 0 6px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
</style>
