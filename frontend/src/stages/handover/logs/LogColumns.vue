<script setup lang="ts">
/** What each column of a log holds, in which unit, and how its numbers and dates are written. */
import { computed } from 'vue'
import Select from '../../../ui/prime/select'
import type { LogMapping, LookedAt } from '../../../api/types'
import { fieldOf } from '../../../ui/fields'
import LogStates from './LogStates.vue'
import { withRole } from './deviceLog'

const props = defineProps<{ mapping: LogMapping; looked: LookedAt }>()
const emit = defineEmits<{ change: [LogMapping] }>()
const HOW = ['order', 'decimal', 'delimiter', 'encoding'] as const
const ZONES = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((zone) => zone !== 'UTC')]
const roles = fieldOf('log.columns.*.role')
const rows = computed(() =>
  props.mapping.columns.map((column, at) => ({
    ...column,
    at,
    units: props.looked.units[column.role ?? ''] ?? [],
    cells: props.looked.sniffed.rows
      .slice(0, 3)
      .map((row) => row[at] ?? '')
      .join(' · '),
  })),
)
const set = (key: string, value: unknown) => emit('change', { ...props.mapping, [key]: value } as LogMapping)
const unit = (at: number, value: string) =>
  set(
    'columns',
    props.mapping.columns.map((column, place) => (place === at ? { ...column, unit: value } : column)),
  )
</script>

<template>
  <div class="how">
    <label v-for="key in HOW" :key="key">
      <span>{{ fieldOf(`log.${key}`).label }}</span>
      <Select
        :model-value="mapping[key]"
        :options="fieldOf(`log.${key}`).choices"
        option-label="label"
        option-value="value"
        size="small"
        :aria-label="fieldOf(`log.${key}`).label"
        :data-log-how="key"
        @update:model-value="set(key, $event)"
      />
    </label>
    <label>
      <span>{{ fieldOf('log.zone').label }}</span>
      <Select
        :model-value="mapping.zone"
        :options="ZONES"
        size="small"
        filter
        :aria-label="fieldOf('log.zone').label"
        data-log-zone
        @update:model-value="set('zone', $event)"
      />
    </label>
  </div>
  <table aria-label="Columns of the log">
    <thead>
      <tr>
        <th>Column</th>
        <th>First cells</th>
        <th>It holds</th>
        <th>Unit</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.at" :class="{ muted: !row.role }">
        <td>{{ row.name || `column ${row.at + 1}` }}</td>
        <td class="cells">{{ row.cells }}</td>
        <td>
          <Select
            :model-value="row.role"
            :options="roles.choices"
            option-label="label"
            option-value="value"
            size="small"
            :aria-label="`What “${row.name}” holds`"
            :data-log-role="row.at"
            @update:model-value="emit('change', withRole(mapping, row.at, $event, looked))"
          />
        </td>
        <td>
          <Select
            v-if="row.units.length > 1"
            :model-value="row.unit"
            :options="[...row.units]"
            size="small"
            :aria-label="`Unit of “${row.name}”`"
            @update:model-value="unit(row.at, $event)"
          />
          <span v-else>{{ row.unit }}</span>
        </td>
      </tr>
    </tbody>
  </table>
  <LogStates :mapping="mapping" :looked="looked" @change="emit('change', $event)" />
</template>

<style scoped>
.how {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
}
.how label {
  display: grid;
  gap: 2px;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th {
  text-align: left;
  font-weight: 600;
  color: var(--muted);
}
td,
th {
  padding: 3px 8px 3px 0;
  border-bottom: 1px solid var(--hair);
}
.cells {
  color: var(--muted);
  font-variant-numeric: tabular-nums;
  overflow-wrap: anywhere;
}
@media (max-width: 700px) {
  .cells,
  thead {
    display: none;
  }
  tr {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    padding: 4px 0;
    border-bottom: 1px solid var(--hair);
  }
  td {
    border: 0;
    padding: 2px 6px 2px 0;
  }
  td:first-child {
    grid-column: 1 / -1;
    font-weight: 600;
  }
  td :deep(.p-select) {
    max-width: 100%;
  }
}
</style>
