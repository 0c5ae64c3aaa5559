<script setup lang="ts">
/** Cold and heat: how many days they bite, what can stop the charge, and how a sleeping pack is woken. */
import { computed } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import { useJob } from '../../job/store'
import AnswerState from '../../ui/AnswerState.vue'
import { fixed, said } from '../../ui/locale'
import NumberField from '../../ui/NumberField.vue'
import TickField from '../../ui/TickField.vue'
import { inHouse, measured } from '../../ui/format'

const job = useJob()
const { data, pending, trouble } = useDerived('climate', (body, signal) =>
  answered(client.POST('/api/settings/climate', { body, signal })),
)
const managed = computed(
  () => job.design?.auxiliary?.management !== null && job.design?.auxiliary?.management !== undefined,
)
</script>

<template>
  <div class="climate">
    <section class="panel" aria-label="Cold and heat">
      <div class="bench-head"><h2>Cold and heat</h2></div>
      <NumberField path="auxiliary.temperature_min_c" origin="entered" fallback="not known" />
      <NumberField path="auxiliary.temperature_max_c" origin="entered" fallback="not known" />
      <NumberField
        path="auxiliary.charge_min_c"
        origin="datasheet"
        :fallback="data ? inHouse(data.least_c, '°C', 0) : 'usual'"
      />
      <NumberField
        path="auxiliary.charge_max_c"
        origin="datasheet"
        :fallback="data ? inHouse(data.most_c, '°C', 0) : 'usual'"
      />
      <TickField path="auxiliary.low_temperature_cut_off" />
      <NumberField path="charge.cold_c" origin="entered" fallback="none" />
      <template v-if="data">
        <p v-if="data.days_cold !== null" class="days">
          <b>{{ fixed(data.days_cold, 0) }}</b> days a year too cold, <b>{{ fixed(data.days_hot, 0) }}</b> too hot
        </p>
        <p>{{ said(data.text) }}</p>
        <p>{{ data.sensor_text }}</p>
      </template>
      <AnswerState :pending="pending" :trouble="trouble" doing="Working it out…" />
    </section>
    <section v-if="data?.ways.length" class="panel" aria-label="Ways to stop charging in the cold">
      <div class="bench-head"><h2>Ways to stop charging in the cold</h2></div>
      <table v-if="data.stops.length" class="stops">
        <thead>
          <tr>
            <th scope="col">What charges it</th>
            <th scope="col">In the cold</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="item in data.stops" :key="item.label">
            <th scope="row">{{ item.label }}</th>
            <td :class="item.enough ? 'good' : 'stop'">
              <template v-if="item.stops_c === null">■ goes on charging</template>
              <template v-else
                >{{ item.enough ? '✓ stops' : '■ stops only' }} under {{ measured(item.stops_c, '°C', 0) }}</template
              >
            </td>
          </tr>
        </tbody>
      </table>
      <ol>
        <li v-for="way in data.ways" :key="way">{{ said(way) }}</li>
      </ol>
      <p class="caution">▲ Never charge LFP frozen: it is ruined at once, and for good.</p>
    </section>
    <section v-if="data" class="panel" aria-label="If the pack sleeps">
      <div class="bench-head"><h2>If the pack sleeps</h2></div>
      <TickField v-if="managed" path="auxiliary.management.needs_waking" />
      <p class="muted">{{ data.waking_text }}</p>
      <ol class="waking">
        <li v-for="step in data.waking" :key="step.do">
          <b>{{ said(step.do) }}</b><span>See: {{ said(step.see) }}</span
          ><span v-if="step.stop" class="stop">■ {{ said(step.stop) }}</span>
        </li>
      </ol>
      <p class="caution">▲ The maker's own procedure goes before this one. Never leave it alone while it is woken.</p>
    </section>
  </div>
</template>

<style scoped>
.climate {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 10px;
  align-items: start;
}
.days b {
  font-size: var(--head);
}
ol {
  padding-left: 20px;
  margin: 4px 0;
  line-height: 1.4;
}
li {
  margin-bottom: 6px;
}
.waking span {
  display: block;
}
.stops {
  width: 100%;
  border-collapse: collapse;
  margin: 6px 0 10px;
}
.stops td,
.stops th {
  padding: 4px 8px 4px 0;
  border-top: 1px solid var(--hair);
  text-align: left;
  font-weight: 500;
}
.stops thead th {
  border-top: 0;
  color: var(--muted);
}
.stops th[scope='row']::first-letter {
  text-transform: uppercase;
}
p {
  margin: 6px 0;
  line-height: 1.4;
}
@media screen and (min-width: 1101px) {
  .climate > * {
    position: relative;
    min-height: 0;
    max-height: 100%;
    overflow: auto;
  }
}
@media (max-width: 1100px) {
  .climate {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
