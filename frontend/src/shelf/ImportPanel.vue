<script setup lang="ts">
/** A file for the shelf: judged row by row first, stored only when that is accepted. */
import Button from '../ui/prime/button'
import { ref } from 'vue'
import { posted, Refused, whyOf } from '../api/client'
import type { Taken } from '../api/types'
import type { Kind } from './kinds'

const props = defineProps<{ kind: Kind }>()
const emit = defineEmits<{ stored: [] }>()
const picker = ref<HTMLInputElement | null>(null)
const file = ref<File | null>(null)
const report = ref<Taken | null>(null)
const trouble = ref('')
const busy = ref(false)

async function send(accept: '' | 'all' | 'good'): Promise<void> {
  if (file.value === null) return
  busy.value = true
  trouble.value = ''
  try {
    const path = `/api/shelf/${props.kind}/import?accept=${accept}`
    const answer = (await (await posted(path, file.value, 'application/octet-stream')).json()) as Taken
    report.value = answer
    if (answer.stored) {
      emit('stored')
      file.value = null
    }
  } catch (error) {
    if (error instanceof Refused) report.value = null
    trouble.value = whyOf(error, 'The server does not answer. Nothing was stored; try again.')
  } finally {
    busy.value = false
  }
}
function picked(event: Event): void {
  const input = event.target as HTMLInputElement
  file.value = input.files?.[0] ?? null
  report.value = null
  input.value = ''
  void send('')
}
const words = (taken: Taken) =>
  [
    taken.new ? `${taken.new} new` : '',
    taken.changed ? `${taken.changed} changed` : '',
    taken.same ? `${taken.same} as they are` : '',
  ]
    .filter(Boolean)
    .join(', ') || 'nothing'
</script>

<template>
  <span class="take">
    <input
      ref="picker"
      type="file"
      accept=".csv,.json,text/csv,application/json"
      class="visually-hidden"
      tabindex="-1"
      aria-label="Shelf file"
      @change="picked"
    />
    <Button
      label="Import a file"
      icon="pi pi-upload"
      size="small"
      severity="secondary"
      variant="outlined"
      :loading="busy"
      @click="picker?.click()"
    />
  </span>
  <div v-if="trouble || report" class="report" :class="{ done: report?.stored }" role="status">
    <p v-if="trouble" class="stop">
      <b>■ {{ trouble }}</b>
    </p>
    <template v-else-if="report">
      <p v-if="report.stored" class="good">
        <b>✓ Stored: {{ words(report) }}.</b>
      </p>
      <template v-else>
        <p>
          <b>{{ report.rows }} rows read.</b> <span class="good">{{ report.good }} good ({{ words(report) }})</span
          ><span v-if="report.bad_rows" class="stop">, {{ report.bad_rows }} with errors</span>. Nothing is stored yet.
        </p>
        <div v-if="report.errors.length" class="errors">
          <table>
            <thead>
              <tr>
                <th class="num">Row</th>
                <th>Field</th>
                <th>What is wrong</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(fault, at) in report.errors" :key="at" data-error>
                <td class="num">{{ fault.row }}</td>
                <td>{{ fault.field }}</td>
                <td>{{ fault.message }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p class="acts">
          <Button
            v-if="report.bad_rows === 0 && report.good"
            label="Store them"
            size="small"
            :loading="busy"
            @click="send('all')"
          />
          <Button
            v-else-if="report.good"
            :label="`Store the ${report.good} good rows`"
            size="small"
            severity="secondary"
            :loading="busy"
            @click="send('good')"
          />
          <Button label="Cancel" size="small" severity="secondary" variant="text" @click="report = null" />
        </p>
      </template>
    </template>
  </div>
</template>

<style scoped>
.report {
  flex-basis: 100%;
  font-size: var(--text);
  border: 1px solid var(--hair);
  border-left: 3px solid var(--ochre);
  padding: 8px 12px;
  display: grid;
  gap: 6px;
}
.report.done {
  border-left-color: var(--verdigris);
}
.errors {
  max-height: 230px;
  overflow: auto;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 2px 14px 2px 0;
  border-bottom: 1px solid var(--hair);
  vertical-align: top;
}
th {
  color: var(--muted);
  font-weight: 500;
}
.num {
  text-align: right;
}
.acts {
  display: flex;
  gap: 8px;
}
</style>
