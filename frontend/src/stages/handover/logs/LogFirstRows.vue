<script setup lang="ts">
/** The first rows of a log as its mapping reads them, and what of the sample it leaves out. */
import type { TriedLog } from '../../../api/types'
import { said } from '../../../ui/locale'
import { moment } from './when'

defineProps<{ tried: TriedLog }>()
</script>

<template>
  <div class="first" data-log-rows>
    <b>Its first rows, as they are read</b>
    <div class="wide" tabindex="0" role="region" aria-label="First rows as they are read">
      <table>
        <thead>
          <tr>
            <th>Here, that is</th>
            <th v-for="label in tried.labels" :key="label">{{ label }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in tried.rows" :key="row.time_s">
            <td>{{ moment(row.time_s, true) }}</td>
            <td v-for="(value, at) in row.values" :key="at" class="number">{{ said(value) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="text in tried.troubles" :key="text" class="caution">▲ {{ text }}</p>
  </div>
</template>

<style scoped>
.first {
  display: grid;
  gap: 4px;
}
.wide {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--muted);
  max-width: 14ch;
  vertical-align: bottom;
}
td,
th {
  padding: 2px 12px 2px 0;
  border-bottom: 1px solid var(--hair);
}
.number {
  font-variant-numeric: tabular-nums;
}
</style>
