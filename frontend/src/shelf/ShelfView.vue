<script setup lang="ts">
/** The shelf: units, batteries, alternators, cables and devices of the workshop. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from '../ui/prime/button'
import Column from '../ui/prime/column'
import DataTable from '../ui/prime/datatable'
import InputText from '../ui/prime/inputtext'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { answered, client } from '../api/client'
import type { ShelfItem } from '../api/types'
import { getAt } from '../job/path'
import AppBar from '../app/AppBar.vue'
import ImportPanel from './ImportPanel.vue'
import ItemDialog from './ItemDialog.vue'
import { cell, kindOf, KINDS } from './kinds'

defineProps<{ night: boolean }>()
const emit = defineEmits<{ night: [] }>()
const route = useRoute()
const queries = useQueryClient()
const about = computed(() => kindOf(route.params.kind))
const kind = computed(() => about.value.kind)
const { data, isPending, error, refetch } = useQuery({
  queryKey: ['shelf', kind],
  queryFn: () => answered(client.GET('/api/shelf/{name}', { params: { path: { name: kind.value } } })),
})
const sought = ref('')
const withRetired = ref(false)
const editing = ref(false)
const item = ref<ShelfItem | null>(null)
const clone = ref(false)
const items = computed(() =>
  (data.value?.items ?? []).filter(
    (one) =>
      (withRetired.value || !one.retired) &&
      (sought.value === '' || JSON.stringify(one.document).toLowerCase().includes(sought.value.toLowerCase())),
  ),
)
const retiredCount = computed(() => (data.value?.items ?? []).filter((one) => one.retired).length)
function edit(chosen: ShelfItem | null, copy = false): void {
  item.value = chosen
  clone.value = copy
  editing.value = true
}
async function changed(): Promise<void> {
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
})
const sample = useMutation({ mutationFn: () => answered(client.POST('/api/shelf/sample')), onSuccess: changed })
const by = (path: string) => (row: ShelfItem) => (getAt(row.document, path) ?? '') as string
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
        <p v-if="isPending" class="muted state" role="status">Fetching the shelf…</p>
        <div v-else-if="error" class="state">
          <p class="stop"><b>■ The server does not answer.</b></p>
          <Button label="Try again" size="small" @click="refetch()" />
        </div>
        <div v-else-if="data?.items.length === 0" class="state">
          <p class="muted">
            This shelf is empty. Add a {{ about.one }}, import a CSV or JSON file, or begin with the invented sample
            shelf to see how things look.
          </p>
          <Button
            label="Put the sample shelf on"
            size="small"
            severity="secondary"
            variant="outlined"
            :loading="sample.isPending.value"
            @click="sample.mutate()"
          />
        </div>
        <DataTable
          v-else
          :value="items"
          data-key="id"
          size="small"
          paginator
          :rows="15"
          :always-show-paginator="false"
          :row-class="(row: ShelfItem) => (row.retired ? 'retired' : '')"
          removable-sort
        >
          <template #empty><span class="muted">Nothing here answers to that.</span></template>
          <Column field="id" header="Number" sortable
            ><template #body="{ data: row }"
              ><button type="button" class="link number" @click="edit(row)">{{ row.id }}</button></template
            ></Column
          >
          <Column
            v-for="column in about.columns"
            :key="column.path"
            :header="column.unit ? `${column.label}, ${column.unit}` : column.label"
            sortable
            :sort-field="by(column.path)"
            :class="column.num ? 'num' : ''"
            ><template #body="{ data: row }">{{ cell(row.document, column.path) }}</template></Column
          >
          <Column header="In jobs" field="used_in" sortable class="num" />
          <Column
            ><template #header><span class="visually-hidden">Actions</span></template
            ><template #body="{ data: row }"
              ><span class="acts"
                ><button type="button" class="link" :aria-label="`clone ${row.id}`" @click="edit(row, true)">
                  clone</button
                ><button
                  type="button"
                  class="link"
                  :aria-label="`${row.retired ? 'put back' : 'retire'} ${row.id}`"
                  @click="retire.mutate(row)"
                >
                  {{ row.retired ? 'put back' : 'retire' }}
                </button></span
              ></template
            ></Column
          >
        </DataTable>
        <p class="muted small">
          A retired {{ about.one }} is no longer offered; jobs that hold it keep their own copy.
        </p>
      </section>
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
.acts {
  display: flex;
  gap: 12px;
  font-size: var(--text);
}
.number {
  font-weight: 600;
}
.panel :deep(table) {
  font-size: var(--text);
}
.panel :deep(.num) {
  text-align: right;
}
.panel :deep(th.num .p-datatable-column-header-content) {
  justify-content: flex-end;
}
.panel :deep(td),
.panel :deep(th) {
  background: transparent;
  padding: 5px 10px 5px 0;
  border-color: var(--hair);
  color: var(--ink);
}
.panel :deep(th) {
  color: var(--muted);
  font-weight: 500;
  font-size: var(--text);
}
.panel :deep(th .p-datatable-column-title) {
  font-weight: 500;
}
.panel :deep(.retired td) {
  color: var(--muted);
  text-decoration: line-through;
  text-decoration-color: var(--edge);
}
.panel :deep(.p-paginator) {
  background: transparent;
  padding: 4px 0 0;
}
@media (max-width: 1000px) {
  main {
    padding: 10px;
  }
  .tools :deep(input[type='text']) {
    flex: 1;
  }
  .kinds a {
    min-height: 40px;
    display: flex;
    align-items: center;
  }
}
</style>
