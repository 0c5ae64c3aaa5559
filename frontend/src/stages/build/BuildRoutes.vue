<script setup lang="ts">
/** Routes a run could take: each with the cable its own length needs, its hours, and what the job comes to then. */
import { tied } from '../../ui/tied'
import { computed } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import { useJob } from '../../job/store'
import AnswerState from '../../ui/AnswerState.vue'
import type { Column } from '../../ui/CellField.vue'
import ListField from '../../ui/ListField.vue'
import { fixed } from '../../ui/locale'
import { measured, money } from '../../ui/format'
import { counted } from '../../ui/counted'

const job = useJob()
const columns: Column[] = [
  { key: 'side', kind: 'choice', width: '120px' },
  { key: 'name', kind: 'text', width: 'minmax(120px, 1.4fr)' },
  { key: 'length_m', kind: 'number', width: '90px' },
  { key: 'hours', kind: 'number', width: '90px' },
  { key: 'notes', kind: 'text', width: 'minmax(120px, 1.6fr)' },
]
const blank = { side: 'supply', name: 'Short, along the sill', length_m: 4, hours: 1, notes: '', taken: false }
const routes = computed(() => job.design?.routes ?? [])
const { data, pending, trouble } = useDerived(
  'routes',
  (body, signal) => answered(client.POST('/api/build/routes', { body, signal })),
  { pause_ms: 120, wanted: () => routes.value.length > 0 },
)
const options = computed(() => (routes.value.length > 0 ? (data.value?.options ?? []) : []))
type Option = (typeof options.value)[number]
function take(option: Option): void {
  if (option.laid === null || job.design === null) return
  const { side: run, id, length_m } = option.route
  job.change([
    { path: run, value: option.laid },
    { path: `distances.${run}_m`, value: length_m },
    {
      path: 'routes',
      value: (job.design.routes ?? []).map((item) => ({
        ...item,
        taken: item.id === id || (item.side !== run && item.taken),
      })),
    },
  ])
}
</script>

<template>
  <div class="routes">
    <section class="panel" aria-label="Routes">
      <div class="bench-head">
        <h2>Routes a run could take</h2>
        <span class="aside">a day to hide one cable is often not worth it</span>
      </div>
      <ListField
        path="routes"
        what="route"
        :columns="columns"
        :blank="blank"
        empty="None entered: the runs are as laid."
      />
    </section>
    <section v-if="options.length" class="panel" aria-label="What each route comes to">
      <div class="bench-head"><h2>What the job comes to by each</h2></div>
      <table>
        <thead>
          <tr>
            <th>Route</th>
            <th>Cable</th>
            <th>Device</th>
            <th>Drop</th>
            <th>Parts</th>
            <th>Work</th>
            <th>Together, before tax</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="item in options" :key="item.route.id" :class="{ taken: item.route.taken }">
            <th scope="row">
              {{ item.route.name }} <small class="muted">{{ measured(item.route.length_m, 'm', 1) }}</small>
            </th>
            <td v-if="item.refused" colspan="6" class="stop">■ {{ item.refused }}</td>
            <template v-else>
              <td>{{ tied(item.cable) }}</td>
              <td>{{ tied(item.protected_by) }}</td>
              <td>{{ fixed(item.drop_v, 2) }}&nbsp;V</td>
              <td>{{ money(item.parts, 0) }}</td>
              <td>{{ fixed(item.hours, 1) }}&nbsp;h, {{ money(item.labour, 0) }}</td>
              <td>
                <b>{{ money(item.total, 2) }}</b>
                <span v-if="item.stops" class="stop"> ■ {{ counted(item.stops, 'stop') }}</span>
              </td>
            </template>
            <td>
              <span v-if="item.route.taken" class="good">✓ taken</span>
              <button
                v-else-if="item.laid"
                type="button"
                class="link"
                :aria-label="`take ${item.route.name}`"
                @click="take(item)"
              >
                take it
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <AnswerState v-if="routes.length" :pending="pending" :trouble="trouble" doing="Laying each…" />
  </div>
</template>

<style scoped>
.routes {
  display: grid;
  gap: 10px;
  align-content: start;
}
th,
td {
  text-align: left;
  padding: 5px 8px 5px 0;
  border-bottom: 1px solid var(--hair);
}
.taken {
  background: var(--verdigris-wash);
}
</style>
