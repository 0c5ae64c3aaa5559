<script setup lang="ts">
/** From the design to the bench: conductors with their ends, cuts off the drums, parts, labels. */
import { asThere, said } from '../../ui/locale'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import { useJob } from '../../job/store'
import { inHouse, measured, money } from '../../ui/format'
import { unitSaid } from '../../ui/units'

const job = useJob()
const { data, pending, trouble } = useDerived(
  'buying',
  (design, signal) => answered(client.POST('/api/buying', { body: { code: job.heading.code, design }, signal })),
  { more: () => job.heading.code },
)
const torque = (end: { torque_nm: number | null; torque_lb_in: number | null }) =>
  end.torque_nm === null ? 'by its sheet' : measured(end.torque_nm, 'N·m', 1)
const PAPERS = [
  ['cuts.csv', 'Cut list, CSV'],
  ['parts.csv', 'Parts, CSV'],
  ['labels.csv', 'Labels, CSV'],
  ['labels.pdf', 'Labels to print, PDF'],
] as const
</script>

<template>
  <div class="buy">
    <section class="panel" aria-label="Cut list">
      <div class="bench-head">
        <h2>Cut list and ends</h2>
        <span class="aside">path and slack, rounded up to {{ said('0.1 m') }}</span>
      </div>
      <div class="scroll">
        <table>
          <thead>
            <tr>
              <th>Conductor</th>
              <th>Size</th>
              <th class="num">Path<br />{{ unitSaid('m') }}</th>
              <th class="num">Cut<br />{{ unitSaid('m') }}</th>
              <th>End A</th>
              <th>End B</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="cut in data?.conductors ?? []" :key="cut.id" :data-cut="cut.id">
              <th scope="row">{{ cut.id }}</th>
              <td class="size">
                {{ asThere(cut.size) }}<small v-if="cut.metal !== 'copper'" class="muted">copper-clad</small>
              </td>
              <td class="num">{{ inHouse(cut.length_m, 'm', 2) }}</td>
              <td class="num strong">{{ inHouse(cut.cut_m, 'm', 1) }}</td>
              <td v-for="(end, at) in cut.ends" :key="at">
                {{ end.at
                }}<small class="muted"
                  >{{ asThere(end.kind) }} · {{ torque(end)
                  }}{{ end.heat_shrink_mm ? ` · shrink ${measured(end.heat_shrink_mm, 'mm', 0)}` : '' }}</small
                >
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <AnswerState :pending="pending" :trouble="trouble" doing="Working the cuts out…" />
      <p v-if="data?.conductors.length === 0" class="muted">No cable is laid yet.</p>
      <p class="muted small">
        Torques are usual for dry studs; the sheet of the part rules. Crimp with the right die, pull-test, never solder.
      </p>
    </section>
    <section class="panel" aria-label="Drums and parts">
      <div class="bench-head">
        <h2>Off the drums</h2>
        <span class="aside">fewest off-cuts</span>
      </div>
      <table>
        <tbody>
          <tr v-for="drum in data?.drums ?? []" :key="drum.drum + drum.size">
            <th scope="row">
              {{ asThere(drum.size) }}<small class="muted">{{ drum.in_stock ? drum.drum : 'to buy' }}</small>
            </th>
            <td>{{ drum.cuts.join(', ') }}</td>
            <td class="num">{{ inHouse(drum.used_m, 'm', 1) }} of {{ measured(drum.length_m, 'm', 1) }}</td>
          </tr>
        </tbody>
      </table>
      <div class="bench-head parts">
        <h2>Parts</h2>
        <span class="aside">{{ data ? `${money(data.total, 0)} without labour` : '' }}</span>
      </div>
      <table>
        <tbody>
          <tr v-for="part in data?.parts ?? []" :key="part.what">
            <th scope="row">
              {{ part.what }}<small v-if="part.detail" class="muted">{{ part.detail }}</small>
            </th>
            <td class="num">{{ part.unit === 'm' ? measured(part.count, 'm', 1) : `${part.count} ×` }}</td>
            <td class="num">{{ money(part.count * part.price, 2) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="panel papers" aria-label="Papers for the bench">
      <div class="bench-head"><h2>For the bench</h2></div>
      <p v-for="[file, label] in PAPERS" :key="file">
        <a :href="`/api/jobs/${job.id}/${file}`" target="_blank" rel="noopener" :data-paper="file">{{ label }}</a>
      </p>
      <p class="muted small">
        From the stored version {{ job.version }}. {{ data?.labels.length ?? 0 }} labels, one for each end.
      </p>
      <div class="flags">
        <div v-for="label in (data?.labels ?? []).slice(0, 4)" :key="label.conductor + label.end" class="flag">
          <b>{{ label.lines[0] }}</b><span>{{ label.lines[1] }}</span
          ><span>{{ label.lines[2] }}</span>
        </div>
      </div>
    </section>
  </div>
</template>

<style scoped>
.buy {
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr) 190px;
  gap: 10px;
}
.scroll {
  overflow-x: auto;
}
thead th {
  color: var(--muted);
  font-weight: 500;
  font-size: var(--small);
  text-align: left;
  vertical-align: bottom;
  line-height: 1.1;
  padding: 0 10px 4px 0;
  border-bottom: 1px solid var(--edge);
}
tbody th,
td {
  text-align: left;
  padding: 3px 10px 3px 0;
  border-bottom: 1px solid var(--hair);
  vertical-align: top;
  font-weight: 400;
}
tbody th {
  font-weight: 600;
}
small {
  display: block;
  font-size: var(--small);
  font-weight: 400;
  line-height: 1.2;
}
.size {
  white-space: nowrap;
}
.num {
  text-align: right;
  white-space: nowrap;
}
.strong {
  font-weight: 600;
}
.parts {
  margin-top: 12px;
}
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin-top: 6px;
}
.papers p {
  margin-bottom: 4px;
  font-size: var(--lead);
}
.flags {
  display: grid;
  gap: 5px;
  margin-top: 8px;
}
.flag {
  border: 1px solid var(--edge);
  padding: 4px 8px;
  font-family: var(--narrow);
  font-size: var(--text);
  display: grid;
  line-height: 1.2;
}
@media (max-width: 1100px) {
  .buy {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
