<script setup lang="ts">
/** What a trip comes to, beside another one where there is one, and what happened on the way. */
import { fixed } from '../ui/locale'
import { computed } from 'vue'
import type { Trip } from '../api/types'
import { moment } from './tracks'
import { quantity } from '../ui/format'
import { useDrive } from '../job/drive'

const props = defineProps<{ trip: Trip; other: Trip | null; name: string }>()
type Totals = Trip['totals']
// Of a hybrid or electric vehicle.
const READY: Record<string, string> = {
  'with the engine off': 'with the vehicle off',
  'Cranks in reserve': 'Made ready, times in reserve',
}
const ROWS: { label: string; of: (at: Totals) => string }[] = [
  { label: 'Starts', of: (at) => String(at.starts) },
  { label: 'Battery guard trips', of: (at) => String(at.guard_trips) },
  { label: 'Charging', of: (at) => `${fixed(at.charging_min, 0)} min` },
  { label: 'with the engine off', of: (at) => `${fixed(at.engine_off_charging_min, 1)} min` },
  { label: 'Into the battery', of: (at) => `${fixed(at.charged_ah, 1)} Ah` },
  { label: 'Taken in', of: (at) => `${fixed(at.input_wh, 0)} Wh` },
  { label: 'Off the start battery', of: (at) => `${fixed(at.drained_ah, 2)} Ah` },
  { label: 'Start battery, lowest', of: (at) => `${Math.round(at.lowest_start_charge * 100)} %` },
  { label: 'Cranks in reserve', of: (at) => (at.reserve_cranks > 99 ? 'over 99' : fixed(at.reserve_cranks, 0)) },
  { label: 'Auxiliary, at the end', of: (at) => `${Math.round(at.auxiliary_charge * 100)} %` },
  {
    label: 'Hottest conductor',
    of: (at) => quantity(at.hottest_supply_c, '°C'),
  },
  { label: 'Hottest unit', of: (at) => quantity(at.hottest_unit_c, '°C') },
]
const { ready } = useDrive()
const rows = computed(() => [
  ...ROWS.map((row) => ({ ...row, label: (ready.value && READY[row.label]) || row.label })),
  ...(props.trip.totals.refused_min > 0
    ? [{ label: 'Refused for the cold', of: (at: Totals) => `${fixed(at.refused_min, 0)} min` }]
    : []),
  ...(props.trip.totals.cold_ah > 0
    ? [{ label: 'Charged frozen', of: (at: Totals) => `${fixed(at.cold_ah, 1)} Ah` }]
    : []),
])
</script>

<template>
  <table>
    <thead v-if="other">
      <tr>
        <th />
        <th scope="col">now</th>
        <th scope="col">{{ name }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.label">
        <th scope="row">{{ row.label }}</th>
        <td>{{ row.of(trip.totals) }}</td>
        <td v-if="other" class="muted">{{ row.of(other.totals) }}</td>
      </tr>
    </tbody>
  </table>
  <ol class="events">
    <li v-for="event in trip.events.slice(0, 60)" :key="event.time_s + event.what" :class="event.what">
      <b>{{ moment(event.time_s) }} {{ event.what }}</b> <span class="muted">{{ event.text }}</span>
    </li>
  </ol>
  <p v-if="trip.events.length > 60" class="muted small">and {{ trip.events.length - 60 }} more</p>
</template>

<style scoped>
table {
  border-collapse: collapse;
  width: 100%;
  font-size: var(--text);
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--muted);
  padding: 1px 0;
}
td {
  text-align: right;
  font-weight: 600;
  white-space: nowrap;
  padding: 1px 0 1px 8px;
}
thead th {
  text-align: right;
  font-size: var(--text);
  padding-left: 8px;
}
.events {
  list-style: none;
  padding: 6px 0 0;
  margin: 6px 0 0;
  border-top: 1px solid var(--hair);
  font-size: var(--text);
  display: grid;
  gap: 2px;
  line-height: 1.25;
}
.guard b,
.collapse b {
  color: var(--madder);
}
.start b {
  color: var(--teal);
}
.small {
  font-size: var(--text);
}
</style>
