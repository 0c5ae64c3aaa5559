<script setup lang="ts">
/** What the auxiliary battery feeds, how the bank is made up, and how cold and warm it gets. */
import { computed } from 'vue'
import type { Column } from '../../ui/CellField.vue'
import ListField from '../../ui/ListField.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import TickField from '../../ui/TickField.vue'
import { quantity } from '../../ui/format'
import { useJob } from '../../job/store'
import { entered } from '../../ui/locale'

const job = useJob()
const LOADS: Column[] = [
  { key: 'name', kind: 'text', width: 'minmax(0, 2fr)' },
  { key: 'current_a', kind: 'number', width: '58px', instead: 'power_w' },
  { key: 'power_w', kind: 'number', width: '58px', instead: 'current_a' },
  { key: 'fed', kind: 'choice', width: 'minmax(0, 1.7fr)' },
  { key: 'duty', kind: 'number', width: '50px' },
  { key: 'standing_h', kind: 'number', width: '58px' },
  { key: 'driving', kind: 'tick', width: '52px' },
  { key: 'wire_m', kind: 'number', width: '58px', when: (row) => row.fed === 'converter' },
]
const STRINGS: Column[] = [
  { key: 'series', kind: 'number' },
  { key: 'block_v', kind: 'number' },
  { key: 'capacity_ah', kind: 'number' },
  { key: 'age_years', kind: 'number' },
  { key: 'chemistry', kind: 'choice', width: 'minmax(0, 1.6fr)' },
]
const daily = computed(() => job.assessment?.facts['use.daily_ah'])
const summed = computed(() => daily.value?.provenance === 'computed')
const given = computed(() => job.design?.use?.daily_ah !== null && job.design?.use?.daily_ah !== undefined)
const managed = computed(
  () => job.design?.auxiliary?.management !== null && job.design?.auxiliary?.management !== undefined,
)
function manage(): void {
  job.change([
    {
      path: 'auxiliary.management',
      value: { charge_max_a: null, low_disconnect_v: null, high_disconnect_v: null, needs_waking: false },
    },
  ])
}
</script>

<template>
  <div class="bank">
    <section class="panel" aria-label="Loads">
      <div class="bench-head">
        <h2>Loads on the auxiliary battery</h2>
        <span class="aside">{{ summed && daily ? `${quantity(Number(daily.value), 'Ah')} a day` : '' }}</span>
      </div>
      <ListField
        path="use.loads"
        what="load"
        :columns="LOADS"
        :blank="{ name: 'load', current_a: 1, duty: 1, standing_h: 8, driving: false, fed: 'battery' }"
        empty="Enter each load, or one figure for the day under As found."
      />
      <p v-if="given && job.design?.use?.loads?.length" class="caution small">
        ▲ The {{ entered(job.design?.use?.daily_ah ?? 0) }}&nbsp;Ah a day typed under As found override this sum.
      </p>
    </section>
    <section class="panel week" aria-label="Week">
      <div class="bench-head"><h2>The week</h2></div>
      <NumberField path="use.drive_h" origin="entered" fallback="open" />
      <NumberField path="use.drive_days" />
      <NumberField path="use.rest_day_ah" origin="entered" fallback="as daily" />
      <NumberField path="use.mains_h" />
      <NumberField
        path="use.reserve"
        origin="entered"
        :fallback="job.design?.auxiliary?.chemistry === 'lfp' ? '20' : '50'"
      />
      <h3>Battery's place</h3>
      <ChoiceField path="auxiliary.place" />
      <NumberField path="auxiliary.temperature_min_c" origin="entered" fallback="open" />
      <NumberField path="auxiliary.temperature_max_c" origin="entered" fallback="open" />
      <NumberField path="auxiliary.charge_min_c" origin="datasheet" fallback="the usual" />
      <TickField path="auxiliary.low_temperature_cut_off" />
    </section>
    <section class="panel" aria-label="Bank">
      <div class="bench-head">
        <h2>Strings in parallel</h2>
        <span class="aside">blank for one battery</span>
      </div>
      <ListField
        path="auxiliary.strings"
        what="string"
        :columns="STRINGS"
        :blank="{ series: 1, block_v: 12, capacity_ah: 100, age_years: null, chemistry: null }"
        empty="One battery, as under As found."
      />
      <h3>Management system</h3>
      <template v-if="managed">
        <NumberField path="auxiliary.management.charge_max_a" origin="datasheet" fallback="open" />
        <NumberField path="auxiliary.management.low_disconnect_v" origin="datasheet" fallback="open" />
        <NumberField path="auxiliary.management.high_disconnect_v" origin="datasheet" fallback="open" />
        <TickField path="auxiliary.management.needs_waking" />
      </template>
      <button v-else type="button" class="link" @click="manage">Enter its limits</button>
    </section>
  </div>
</template>

<style scoped>
.bank {
  display: grid;
  grid-template-columns: minmax(0, 2.2fr) minmax(0, 1fr);
  grid-template-rows: auto 1fr;
  gap: 8px;
}
.small {
  font-size: var(--text);
  margin-top: 6px;
}
.week {
  grid-column: 2;
  grid-row: 1 / span 2;
}
@media (max-width: 1100px) {
  .week {
    grid-column: 1;
    grid-row: auto;
  }
  .bank {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
