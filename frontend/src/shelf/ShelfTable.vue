<script setup lang="ts">
/** What is on one shelf, row by row: edit, clone, retire. */
import Column from '../ui/prime/column'
import DataTable from '../ui/prime/datatable'
import type { DataTableSortEvent } from 'primevue/datatable'
import type { ShelfItem } from '../api/types'
import { cell, type ShelfColumn } from './kinds'
import { unitSaid } from '../ui/units'

defineProps<{ items: ShelfItem[]; total: number; rows: number; columns: readonly ShelfColumn[] }>()
const begin = defineModel<number>('begin', { required: true })
const sorted = defineModel<{ order: string; falling: boolean }>('sorted', { required: true })
const emit = defineEmits<{ edit: [item: ShelfItem, clone: boolean]; retire: [item: ShelfItem] }>()
function sort(event: DataTableSortEvent): void {
  const field = typeof event.sortField === 'string' ? event.sortField : ''
  sorted.value = { order: event.sortOrder ? field : '', falling: event.sortOrder === -1 }
}
</script>

<template>
  <div class="rows">
    <DataTable
      :value="items"
      data-key="id"
      size="small"
      lazy
      paginator
      :total-records="total"
      :first="begin"
      :rows="rows"
      :always-show-paginator="false"
      :row-class="(row: ShelfItem) => (row.retired ? 'retired' : '')"
      removable-sort
      @page="begin = $event.first"
      @sort="sort"
    >
      <template #empty><span class="muted">Nothing on this shelf matches that.</span></template>
      <Column field="id" header="Number" sortable
        ><template #body="{ data: row }"
          ><button type="button" class="link number" @click="emit('edit', row, false)">{{ row.id }}</button></template
        ></Column
      >
      <Column
        v-for="column in columns"
        :key="column.path"
        :header="column.unit ? `${column.label}, ${unitSaid(column.unit)}` : column.label"
        sortable
        :sort-field="column.path"
        :class="column.num ? 'num' : ''"
        ><template #body="{ data: row }">{{ cell(row.document, column.path, column.unit) }}</template></Column
      >
      <Column header="In jobs" field="used_in" class="num" />
      <Column
        ><template #header><span class="visually-hidden">Actions</span></template
        ><template #body="{ data: row }"
          ><span class="acts"
            ><button type="button" class="link" :aria-label="`clone ${row.id}`" @click="emit('edit', row, true)">
              clone</button
            ><button
              type="button"
              class="link"
              :aria-label="`${row.retired ? 'put back' : 'retire'} ${row.id}`"
              @click="emit('retire', row)"
            >
              {{ row.retired ? 'put back' : 'retire' }}
            </button></span
          ></template
        ></Column
      >
    </DataTable>
  </div>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 12px;
  font-size: var(--text);
}
.number {
  font-weight: 600;
}
.rows :deep(table) {
  font-size: var(--text);
}
.rows :deep(.num) {
  text-align: right;
}
.rows :deep(th.num .p-datatable-column-header-content) {
  justify-content: flex-end;
}
.rows :deep(td),
.rows :deep(th) {
  background: transparent;
  padding: 5px 10px 5px 0;
  border-color: var(--hair);
  color: var(--ink);
}
/* Whose row it is stays in sight where the table is wider than a phone. */
.rows :deep(:is(th, td):first-child) {
  position: sticky;
  left: 0;
  background: var(--panel);
  z-index: 1;
}
.rows :deep(th) {
  color: var(--muted);
  font-weight: 500;
  font-size: var(--text);
}
.rows :deep(th .p-datatable-column-title) {
  font-weight: 500;
}
.rows :deep(.retired td) {
  color: var(--muted);
  text-decoration: line-through;
  text-decoration-color: var(--edge);
}
.rows :deep(.p-paginator) {
  background: transparent;
  padding: 4px 0 0;
}
</style>
