<script setup lang="ts">
/** The battery monitor: what goes past its shunt, what to key in, how far it may be trusted. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import { useJob } from '../../job/store'
import AnswerState from '../../ui/AnswerState.vue'
import { fieldAt } from '../../ui/fields'
import { fixed, said } from '../../ui/locale'
import NumberField from '../../ui/NumberField.vue'
import SelectField from '../../ui/SelectField.vue'
import TickField from '../../ui/TickField.vue'
import ShuntDrawing from './ShuntDrawing.vue'

const job = useJob()
const { data, pending, trouble } = useDerived('monitor', (body, signal) =>
  answered(client.POST('/api/settings/monitor', { body, signal })),
)
const { data: shelf } = useQuery({
  queryKey: ['shelf', 'monitors', 'few'],
  queryFn: () =>
    answered(client.GET('/api/shelf/{name}', { params: { path: { name: 'monitors' }, query: { rows: 100 } } })),
})
const options = computed(() => [
  { value: '', label: 'not chosen' },
  ...(shelf.value?.items ?? []).map((item) => ({
    value: item.id,
    label: ((item.document as { monitor?: { name?: string } }).monitor?.name ?? item.id) || item.id,
  })),
])
const chosen = computed({
  get: () => {
    const name = job.design?.monitor?.unit?.name ?? ''
    return options.value.find((item) => item.label === name)?.value ?? ''
  },
  set: (id: string) => {
    const item = shelf.value?.items.find((one) => one.id === id)
    const unit = item ? (item.document as { monitor: unknown }).monitor : null
    const price = (item?.document as { price?: number } | undefined)?.price || null
    job.change([
      { path: 'monitor.unit', value: unit },
      { path: 'monitor.price', value: price },
    ])
  },
})
const past = computed(() => (job.design?.monitor?.bypassed_by ?? []) as string[])
const PAST = [
  { value: 'unit', label: 'the unit' },
  { value: 'solar', label: 'the solar controller' },
  { value: 'mains', label: 'a mains or portable charger' },
  { value: 'built_in', label: 'a built-in charger' },
  { value: 'loads', label: 'loads' },
  { value: 'inverter', label: 'the inverter' },
  { value: 'chassis', label: 'a chassis strap' },
  { value: 'monitor_feed', label: "the monitor's own feed" },
]
function toggle(what: string, on: boolean): void {
  const next = on ? [...past.value, what] : past.value.filter((item) => item !== what)
  job.change([{ path: 'monitor.bypassed_by', value: next }])
}
const title = computed(() => fieldAt(job.design, 'monitor.bypassed_by').label)
</script>

<template>
  <div class="monitor">
    <section class="panel" aria-label="Where the shunt sits">
      <div class="bench-head"><h2>Where the shunt sits</h2></div>
      <ShuntDrawing :past="past" :names="PAST" />
      <fieldset class="past">
        <legend>{{ title }}</legend>
        <label v-for="item in PAST" :key="item.value"
          ><input
            type="checkbox"
            :checked="past.includes(item.value)"
            @change="toggle(item.value, ($event.target as HTMLInputElement).checked)"
          />
          {{ item.label }}</label
        >
      </fieldset>
      <ul v-if="data?.passed.length" class="passed">
        <li v-for="item in data.passed" :key="item.what" class="caution">▲ {{ said(item.text) }}</li>
      </ul>
      <p v-else class="good">✓ Only the shunt's own cable sits on the battery's negative.</p>
    </section>
    <section class="panel" aria-label="Values to key into the monitor">
      <div class="bench-head"><h2>Values to key in</h2></div>
      <SelectField v-model="chosen" label="Monitor" :options="options" />
      <NumberField v-if="job.design?.monitor?.unit" path="monitor.price" origin="entered" fallback="none" />
      <table v-if="data">
        <tbody>
          <tr v-for="item in data.values" :key="item.label">
            <th>{{ item.label }}</th>
            <td class="num">{{ fixed(item.value, 2).replace(/[.,]?0+$/, '') }} {{ item.unit }}</td>
            <td class="muted">{{ item.why }}</td>
          </tr>
          <tr>
            <th>Zero</th>
            <td class="num">set</td>
            <td class="muted">with nothing flowing, every load off</td>
          </tr>
        </tbody>
      </table>
      <p v-if="job.design?.monitor?.unit?.settings" class="muted">
        Its own menu is among the devices of the sheet, first page.
      </p>
      <AnswerState :pending="pending" :trouble="trouble" doing="Working it out…" />
    </section>
    <section class="panel" aria-label="How far to trust it">
      <div class="bench-head"><h2>How far to trust it</h2></div>
      <TickField path="monitor.synchronised" />
      <NumberField path="monitor.unmetered_ma" origin="measured" fallback="none" />
      <NumberField path="monitor.shows_percent" origin="measured" fallback="not read" />
      <NumberField path="monitor.rested_v" origin="measured" fallback="not read" />
      <template v-if="data">
        <p :class="job.design?.monitor?.synchronised ? 'good' : 'caution'">
          {{ job.design?.monitor?.synchronised ? '✓' : '▲' }} {{ data.first_text }}
        </p>
        <p>{{ said(data.drift_text) }}</p>
        <p>{{ said(data.go_text) }}</p>
        <p>{{ said(data.volts_text) }}</p>
      </template>
    </section>
  </div>
</template>

<style scoped>
.monitor {
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1.1fr) minmax(0, 1fr);
  gap: 10px;
  align-items: start;
}
.past {
  border: 0;
  padding: 0;
  margin: 6px 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 2px 10px;
}
.past legend {
  color: var(--muted);
  font-size: var(--text);
}
.past label {
  min-height: 28px;
  display: flex;
  gap: 6px;
  align-items: center;
}
.past input {
  width: 18px;
  height: 18px;
  accent-color: var(--copper);
}
.passed {
  list-style: none;
  padding: 0;
  margin: 4px 0;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin-top: 6px;
}
th {
  text-align: left;
  font-weight: 500;
}
td,
th {
  padding: 4px 8px 4px 0;
  border-top: 1px solid var(--hair);
}
.num {
  text-align: right;
  font-weight: 600;
  white-space: nowrap;
}
p {
  margin: 6px 0;
  line-height: 1.4;
}
@media (max-width: 1100px) {
  .monitor {
    grid-template-columns: minmax(0, 1fr);
  }
  .past label {
    min-height: 44px;
  }
}
</style>
