<script setup lang="ts">
/** A list in the design, one row an item: add, edit, take out. */
import Button from 'primevue/button'
import { computed } from 'vue'
import { freshId } from '../job/pieces'
import { useJob } from '../job/store'
import CellField, { type Column } from './CellField.vue'
import { fieldAt } from './fields'
import { unitSaid } from './units'

const props = defineProps<{
  path: string
  what: string
  columns: Column[]
  blank: Record<string, unknown>
  empty: string
}>()
const job = useJob()
const items = computed(() => (job.valueAt(props.path) as { id?: string }[] | undefined) ?? [])
const grid = computed(() => `${props.columns.map((column) => column.width ?? 'minmax(52px, 1fr)').join(' ')} 26px`)
const fields = computed(() =>
  props.columns.map((column) => ({ ...column, ...fieldAt(job.design, `${props.path}.0.${column.key}`) })),
)
function add(): void {
  job.change([{ path: props.path, value: [...items.value, { ...props.blank, id: freshId('x') }] }])
}
/** The path of an item: by its identity, where it has one. */
const pathOf = (at: number) => `${props.path}.${items.value[at]?.id || at}`
function remove(at: number): void {
  job.change([{ path: props.path, value: items.value.filter((_, index) => index !== at) }])
}
</script>

<template>
  <div
    class="list"
    :class="{ 'wide-rows': columns.length > 4 }"
    :style="{ '--wide': `${Math.min(108 * columns.length, 640)}px` }"
    :data-list="path"
  >
    <div v-if="items.length" class="row head" :style="{ gridTemplateColumns: grid }">
      <span v-for="column in fields" :key="column.key"
        >{{ column.label }}<small v-if="column.unit"> {{ unitSaid(column.unit) }}</small></span
      ><span />
    </div>
    <div v-for="(item, at) in items" :key="item.id || at" class="row" :style="{ gridTemplateColumns: grid }">
      <template v-for="column in fields" :key="column.key">
        <CellField
          v-if="column.when === undefined || column.when(item)"
          :path="`${pathOf(at)}.${column.key}`"
          :column="column"
          :name="`${what} ${at + 1}, ${column.label}`" />
        <span v-else
      /></template>
      <Button
        icon="pi pi-times"
        size="small"
        variant="text"
        severity="secondary"
        :aria-label="`take out ${what} ${at + 1}`"
        @click="remove(at)"
      />
    </div>
    <p v-if="items.length === 0" class="muted empty">{{ empty }}</p>
    <Button
      :label="`Add ${what}`"
      icon="pi pi-plus"
      size="small"
      variant="outlined"
      severity="secondary"
      @click="add"
    />
  </div>
</template>

<style scoped>
.list {
  display: grid;
  gap: 3px;
  justify-items: start;
}
.row {
  display: grid;
  gap: 4px;
  width: 100%;
  align-items: start;
}
.head small {
  margin-left: 3px;
}
.row :deep(.p-checkbox) {
  margin: 5px 8px 0;
}
.head {
  font-size: var(--small);
  color: var(--muted);
  align-items: end;
  line-height: 1.1;
}
.row :deep(.p-button) {
  padding: 3px;
  width: 26px;
  height: 28px;
}
@media (max-width: 700px) {
  .list {
    overflow-x: auto;
  }
  .wide-rows .row {
    min-width: var(--wide);
  }
  /* What a row is stays in sight beside what is pushed along. */
  .wide-rows .row > :first-child {
    position: sticky;
    left: 0;
    z-index: 1;
    min-width: 104px;
    background: var(--panel);
  }
  .wide-rows .head > :first-child {
    display: flex;
    align-items: end;
    height: 100%;
  }
  .list > :deep(.p-button) {
    position: sticky;
    left: 0;
  }
}
.empty {
  font-size: var(--text);
  line-height: 1.35;
}
.list > :deep(.p-button) {
  margin-top: 3px;
  padding: 2px 8px;
  font-size: var(--text);
}
</style>
