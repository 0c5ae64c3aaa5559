<script setup lang="ts">
/** The shelf: units, batteries, alternators, cables and devices of the workshop. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answered, client, whyOf } from '../api/client'
import type { ShelfItem } from '../api/types'
import AppBar from '../app/AppBar.vue'
import ImportPanel from './ImportPanel.vue'
import ItemDialog from './ItemDialog.vue'
import RecallPanel from './RecallPanel.vue'
import ShelfTable from './ShelfTable.vue'
import { useFocusBack } from '../ui/focusBack'
import { keptTyped } from './itemTyped'
import { kindOf, KINDS } from './kinds'
import { asking } from '../ui/asking'

const ROWS = 15 // of one page, as the table fits a screen
defineProps<{ night: boolean }>()
const emit = defineEmits<{ night: [] }>()
const route = useRoute()
const queries = useQueryClient()
const about = computed(() => kindOf(route.params.kind))
const kind = computed(() => about.value.kind)
const sought = ref('')
const settled = refDebounced(sought, 150)
const withRetired = ref(false)
const sorted = ref({ order: '', falling: false })
const begin = ref(0)
const part = computed(() => ({
  sought: settled.value,
  retired: withRetired.value,
  ...sorted.value,
  begin: begin.value,
  rows: ROWS,
}))
watch([kind, settled, withRetired, sorted], () => (begin.value = 0))
const { data, isPending, error, refetch } = useQuery({
  queryKey: ['shelf', kind, part],
  queryFn: () =>
    answered(client.GET('/api/shelf/{name}', { params: { path: { name: kind.value }, query: part.value } })),
  placeholderData: keepPreviousData,
  meta: { said: true },
})
const bare = computed(() => data.value?.total === 0 && data.value.retired === 0 && settled.value === '')
const editing = ref(false)
useFocusBack(editing)
const item = ref<ShelfItem | null>(null)
const clone = ref(false)
const items = computed(() => (data.value?.kind === kind.value ? data.value.items : []))
const retiredCount = computed(() => data.value?.retired ?? 0)
function edit(chosen: ShelfItem | null, copy = false): void {
  item.value = chosen
  clone.value = copy
  editing.value = true
}
const asked = asking(() => kind.value)
/** What was being typed before a reload stands there again. */
async function resume(): Promise<void> {
  const kept = keptTyped(kind.value)
  if (kept === null || editing.value) return
  const counts = asked()
  const path = { name: kind.value, number: kept.of }
  const there = kept.of === '' ? null : answered(client.GET('/api/shelf/{name}/{number}', { params: { path } }))
  const found = await there?.catch(() => null) // gone meanwhile: what was typed is offered as a new one
  if (counts()) edit(found ?? null, found !== null && kept.clone)
}
watch(kind, () => void resume(), { immediate: true })
/** Why the last press of a button changed nothing. */
const told = ref('')
function fail(error: Error): void {
  told.value = whyOf(error, 'The server does not answer; nothing was changed.')
}
async function changed(): Promise<void> {
  told.value = ''
  await queries.invalidateQueries({ queryKey: ['shelf'] })
  await queries.invalidateQueries({ queryKey: ['catalogue'] })
}
const retire = useMutation({
  mutationFn: (one: ShelfItem) =>
    answered(
      client.POST('/api/shelf/{name}/{number}/retire', {
        params: { path: { name: kind.value, number: one.id } },
        body: { retired: !one.retired },
      }),
    ),
  onSuccess: changed,
  onError: fail,
})
const sample = useMutation({
  mutationFn: () => answered(client.POST('/api/shelf/sample')),
  onSuccess: changed,
  onError: fail,
})
</script>

<template>
  <div class="shelf">
    <AppBar where="Shelf" :night="night" @night="emit('night')" />
    <main>
      <nav class="kinds" aria-label="Shelves">
        <RouterLink
          v-for="one in KINDS"
          :key="one.kind"
          :to="`/shelf/${one.kind}`"
          :class="{ on: one.kind === kind }"
          :aria-current="one.kind === kind ? 'page' : undefined"
          >{{ one.label }}</RouterLink
        >
      </nav>
      <section class="panel" :aria-label="about.label">
        <div class="tools">
          <Button :label="`New ${about.one}`" icon="pi pi-plus" size="small" @click="edit(null)" />
          <ImportPanel :key="kind" :kind="kind" @stored="changed" />
          <span class="out"
            >Export <a :href="`/api/shelf/${kind}/file.csv`">CSV</a>
            <a :href="`/api/shelf/${kind}/file.json`">JSON</a></span
          >
          <InputText
            v-model="sought"
            size="small"
            placeholder="Find"
            aria-label="Find on this shelf"
            autocomplete="off"
          />
          <label v-if="retiredCount" class="retired-too"
            ><input v-model="withRetired" type="checkbox" /> show {{ retiredCount }} retired</label
          >
        </div>
        <p v-if="data?.unreadable?.length" class="caution" role="status" data-unreadable>
          ▲ Not readable, and left out: {{ data.unreadable.join(', ') }}. Store them anew under the same numbers, or
          restore a backup.
        </p>
        <p v-if="told" class="stop" role="alert">■ {{ told }}</p>
        <p v-if="isPending" class="muted state" role="status">Fetching the shelf…</p>
        <div v-else-if="error" class="state">
          <p class="stop">
            <b>■ {{ whyOf(error, 'The server does not answer.') }}</b>
          </p>
          <Button label="Try again" size="small" @click="refetch()" />
        </div>
        <div v-else-if="bare" class="state">
          <p class="muted">
            This shelf is empty. Add a {{ about.one }}, import a CSV or JSON file, or begin with the invented sample
            shelf to see how things look.
          </p>
          <Button
            label="Add the sample shelf"
            size="small"
            severity="secondary"
            variant="outlined"
            :loading="sample.isPending.value"
            @click="sample.mutate()"
          />
        </div>
        <ShelfTable
          v-else
          v-model:begin="begin"
          v-model:sorted="sorted"
          :items="items"
          :total="data?.total ?? 0"
          :rows="ROWS"
          :columns="about.columns"
          @edit="edit"
          @retire="retire.mutate($event)"
        />
        <p class="muted small">
          A retired {{ about.one }} is no longer offered; jobs that hold it keep their own copy.
        </p>
      </section>
      <RecallPanel />
    </main>
    <ItemDialog v-model:open="editing" :kind="kind" :one="about.one" :item="item" :clone="clone" @stored="changed" />
  </div>
</template>

<style scoped>
main {
  padding: 12px 24px 30px;
  max-width: 1320px;
  margin: 0 auto;
  display: grid;
  gap: 10px;
  grid-template-columns: minmax(0, 1fr);
}
.kinds {
  display: flex;
  gap: 2px;
  overflow-x: auto;
}
.kinds a {
  padding: 4px 12px;
  text-decoration: none;
  color: var(--muted);
  border-bottom: 2px solid transparent;
}
.kinds a.on {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--copper);
}
.panel {
  padding: 12px 14px;
  min-width: 0;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
  margin-bottom: 8px;
  font-size: var(--text);
}
.out {
  color: var(--muted);
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.retired-too {
  color: var(--muted);
}
.state {
  padding: 18px 0;
  display: grid;
  gap: 8px;
  justify-items: start;
}
.small {
  font-size: var(--text);
  margin-top: 8px;
}
@media (max-width: 1100px) {
  main {
    padding: 10px;
  }
  .tools :deep(input[type='text']) {
    flex: 1;
  }
  .kinds a {
    min-height: 44px;
    display: flex;
    align-items: center;
  }
}
</style>
