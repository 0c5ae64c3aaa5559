<script setup lang="ts">
/** The order list: what the job needs, what is in stock, what is to be ordered, by supplier. */
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import { useJob } from '../../job/store'
import AnswerState from '../../ui/AnswerState.vue'
import { fixed } from '../../ui/locale'
import { inHouse, money } from '../../ui/format'
import { UNITS, unitSaid } from '../../ui/units'

const job = useJob()
const { data, pending, trouble } = useDerived('orders', (body, signal) =>
  answered(client.POST('/api/build/orders', { body, signal })),
)
const amount = (value: number, unit: string) => inHouse(value, unit, unit === 'm' && value % 1 !== 0 ? 1 : 0)
</script>

<template>
  <div class="orders">
    <section v-for="group in data?.groups ?? []" :key="group.supplier" class="panel" :aria-label="group.supplier">
      <div class="bench-head">
        <h2>{{ group.supplier }}</h2>
        <span class="aside">{{ money(group.total, 2) }}</span>
      </div>
      <table>
        <thead>
          <tr>
            <th>Part</th>
            <th class="num">Needed</th>
            <th class="num">In stock</th>
            <th class="num">To order</th>
            <th class="num">{{ UNITS.currency }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(line, at) in group.lines" :key="at" :class="{ none: line.to_order === 0 }">
            <th scope="row">
              {{ line.what }} <small class="muted">{{ line.detail }}</small>
            </th>
            <td class="num">{{ amount(line.needed, line.unit) }} {{ line.unit === 'm' ? unitSaid('m') : '' }}</td>
            <td class="num">{{ line.in_stock ? amount(line.in_stock, line.unit) : '–' }}</td>
            <td class="num">
              <b>{{ line.to_order ? amount(line.to_order, line.unit) : '–' }}</b>
            </td>
            <td class="num">{{ line.sum ? fixed(line.sum, 2) : '–' }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="panel" aria-label="Together">
      <div class="bench-head">
        <h2>To order, together</h2>
        <span class="aside"
          ><b>{{ money(data?.total, 2) }}</b></span
        >
      </div>
      <a v-if="job.id" :href="`/api/jobs/${job.id}/orders.csv`" data-paper="orders">Order list, CSV</a>
      <p class="muted">Suppliers and stock are on the shelf, with each unit, cable and device.</p>
      <AnswerState :pending="pending" :trouble="trouble" doing="Counting…" />
    </section>
  </div>
</template>

<style scoped>
.orders {
  display: grid;
  gap: 10px;
  grid-auto-rows: max-content;
  overflow: auto;
}
th {
  text-align: left;
  font-weight: 400;
}
.num {
  text-align: right;
}
th,
td {
  padding: 3px 8px 3px 0;
  border-bottom: 1px solid var(--hair);
}
.none {
  color: var(--muted);
}
</style>
