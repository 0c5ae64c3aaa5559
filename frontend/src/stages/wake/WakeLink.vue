<script setup lang="ts">
/** What was there before: the decision, the relay it takes, every load by engine state before and after. */
import { computed } from 'vue'
import { answered, client } from '../../api/client'
import NumberField from '../../ui/NumberField.vue'
import { freshId } from '../../job/pieces'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import { useJob } from '../../job/store'
import { walkRadios } from '../../ui/radios'
import RelayDrawing from './RelayDrawing.vue'

const job = useJob()
const { data, pending, trouble } = useDerived('old-link', (body, signal) =>
  answered(client.POST('/api/old-link', { body, signal })),
)
const CARRIES = [
  { key: 'meter', label: 'start battery meter' },
  { key: 'fridge', label: 'fridge feed while driving' },
  { key: 'upkeep', label: 'upkeep of the start battery' },
  { key: 'lamp', label: 'a charging signal' },
] as const
const at = computed(() =>
  (job.design?.existing ?? []).findIndex((item) => item.kind === 'link' || item.kind === 'panel'),
)
const carried = computed(() => [...(job.design?.existing?.[at.value]?.carries ?? [])])
function carry(key: (typeof CARRIES)[number]['key']): void {
  job.change([
    {
      path: `existing.${at.value}.carries`,
      value: carried.value.includes(key) ? carried.value.filter((item) => item !== key) : [...carried.value, key],
    },
  ])
}
const decided = computed(
  () => job.design?.old_link?.decision || data.value?.choices.find((item) => item.recommended)?.key,
)
const place = computed({
  get: () => data.value?.relay?.place ?? '',
  set: (value: string) => {
    job.change([{ path: 'old_link.relay_place', value }])
  },
})
</script>

<template>
  <div v-if="!data" class="panel none">
    <AnswerState :pending="pending" :trouble="trouble" doing="Looking at what was there…" />
  </div>
  <div v-else-if="!data.there" class="panel none">
    <h2>No old link in the survey</h2>
    <p class="muted">
      A relay or an integrated panel that joins the batteries when the engine runs is noted in Survey, under what is
      there already. With one there, this page decides what becomes of it.
    </p>
    <button
      type="button"
      class="link"
      @click="
        job.change([
          { path: 'existing', value: [...(job.design?.existing ?? []), { id: freshId('e'), kind: 'link', name: '' }] },
        ])
      "
    >
      Add the old link
    </button>
  </div>
  <div v-else class="old">
    <AnswerState class="across" :pending="false" :trouble="trouble" doing="" />
    <section class="panel" aria-label="Decision">
      <div class="bench-head"><h2>What becomes of it</h2></div>
      <p class="label">{{ data.there }}. Besides charging it carries</p>
      <div class="carries">
        <button
          v-for="item in CARRIES"
          :key="item.key"
          type="button"
          class="plain chip"
          role="checkbox"
          :aria-checked="carried.includes(item.key)"
          :class="{ on: carried.includes(item.key) }"
          :data-carries="item.key"
          @click="carry(item.key)"
        >
          {{ carried.includes(item.key) ? '✓ ' : '' }}{{ item.label }}
        </button>
      </div>
      <div role="radiogroup" aria-label="What becomes of it" @keydown="walkRadios">
        <button
          v-for="(choice, row) in data.choices"
          :key="choice.key"
          type="button"
          class="plain choice"
          role="radio"
          :aria-checked="data.decision === choice.key"
          :tabindex="data.decision === choice.key || (!data.decision && row === 0) ? 0 : -1"
          :class="{ on: data.decision === choice.key }"
          :data-decision="choice.key"
          @click="job.change([...choice.take.changes])"
        >
          <b>{{ choice.label }}</b> <em v-if="choice.recommended" class="good">✓ recommended</em
          ><small>{{ choice.reason }}</small>
        </button>
      </div>
      <p v-if="!data.decision" class="caution small">▲ Not decided yet: press one.</p>
    </section>
    <section v-if="data.relay" class="panel" aria-label="Relay">
      <div class="bench-head">
        <h2>The relay</h2>
        <span class="aside">at rest: engine off</span>
      </div>
      <RelayDrawing :relay="data.relay" />
      <div class="seats" role="radiogroup" aria-label="Relay sits in" @keydown="walkRadios">
        <button
          v-for="[key, label] in [
            ['start_feed', 'start-battery feed'],
            ['auxiliary_feed', 'behind the panel'],
          ]"
          :key="key"
          type="button"
          class="plain chip"
          role="radio"
          :aria-checked="place === key"
          :tabindex="place === key ? 0 : -1"
          :class="{ on: place === key }"
          @click="place = key ?? ''"
        >
          {{ place === key ? '✓ ' : '' }}{{ label }}
        </button>
      </div>
      <dl>
        <div>
          <dt>Contact carries</dt>
          <dd>
            {{ data.relay.duty_a.toFixed(1) }} A <small class="muted">{{ data.relay.duty_from }}</small>
          </dd>
        </div>
        <div>
          <dt>Break contact 87a</dt>
          <dd :class="{ stop: !data.relay.contact_a }">
            {{ data.relay.contact_a ? `${data.relay.contact_a} A` : 'none that large' }}
          </dd>
        </div>
        <div>
          <dt>Coil and all on D+</dt>
          <dd :class="data.relay.coil_fits ? 'good' : 'caution'">
            {{ data.relay.total_ma.toFixed(0) }} of {{ data.relay.d_plus_ma.toFixed(0) }} mA
          </dd>
        </div>
      </dl>
      <NumberField
        v-if="data.relay.place === 'start_feed'"
        path="old_link.feed_a"
        :fallback="data.relay.duty_a.toFixed(1)"
      />
      <NumberField v-else path="old_link.living_a" :fallback="data.relay.duty_a.toFixed(1)" />
      <NumberField path="old_link.feed_mm2" fallback="open" />
      <NumberField path="old_link.coil_ma" origin="datasheet" :fallback="data.relay.coil_ma.toFixed(0)" />
      <NumberField path="old_link.d_plus_ma" origin="datasheet" :fallback="data.relay.d_plus_ma.toFixed(0)" />
      <ul class="terms">
        <li v-for="item in data.relay.terminals" :key="item.terminal">
          <b>{{ item.terminal }}</b> {{ item.goes_to }}
        </li>
      </ul>
      <p class="small"><b>Suppression:</b> {{ data.relay.suppression }}.</p>
      <p class="small">{{ data.relay.if_broken }}</p>
    </section>
    <section class="panel loads" aria-label="Loads before and after">
      <div class="bench-head">
        <h2>What powers what</h2>
        <span class="aside">{{ decided === data.decision ? 'as decided' : 'as recommended' }}</span>
      </div>
      <table>
        <thead>
          <tr>
            <th scope="col" rowspan="2" />
            <th scope="colgroup" colspan="2">before</th>
            <th scope="colgroup" colspan="2" class="after">after</th>
          </tr>
          <tr>
            <th scope="col">engine off</th>
            <th scope="col">running</th>
            <th scope="col" class="after">engine off</th>
            <th scope="col">running</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in data.rows" :key="row.name" :class="{ lost: row.lost }">
            <th scope="row">{{ row.name }}</th>
            <td>{{ row.before_off }}</td>
            <td>{{ row.before_running }}</td>
            <td class="after" :class="{ changed: row.before_off !== row.after_off }">{{ row.after_off }}</td>
            <td :class="{ changed: row.before_running !== row.after_running }">{{ row.after_running }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="data.lost.length" class="small"><b class="caution">▲ Lost:</b> {{ data.lost.join('; ') }}.</p>
      <p v-else class="small good">✓ Nothing is lost.</p>
      <h3>Making it safe</h3>
      <ol>
        <li v-for="step in data.make_safe" :key="step">{{ step }}</li>
      </ol>
      <p class="small muted">{{ data.standing }}</p>
      <p class="small muted">Work on a live feed only isolated and fused; the vehicle maker's instructions rule.</p>
    </section>
  </div>
</template>

<style scoped>
.none {
  padding: 16px 20px;
  display: grid;
  gap: 8px;
  align-content: start;
  max-width: 640px;
}
.old {
  display: grid;
  grid-template-columns: 226px 262px minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}
.loads {
  grid-column-end: -1;
}
.old > section:nth-child(2):last-child {
  grid-column: 2 / -1;
}
.label {
  font-size: var(--text);
  color: var(--muted);
}
.carries,
.seats {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 3px 0 8px;
}
.chip {
  border: 1px solid var(--edge);
  border-radius: 3px;
  padding: 2px 7px;
  font-size: var(--text);
}
.chip.on {
  border-color: var(--copper);
  background: var(--copper-wash);
}
.choice {
  display: block;
  width: 100%;
  padding: 5px 7px;
  border: 1px solid var(--hair);
  border-radius: 3px;
  font-size: var(--text);
  line-height: 1.3;
  margin-bottom: 4px;
}
.choice.on {
  border-color: var(--copper);
  background: var(--copper-wash);
}
.choice small {
  display: block;
  color: var(--muted);
  font-size: var(--text);
}
.choice em {
  font-style: normal;
  font-size: var(--text);
}
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin-top: 5px;
}
dl {
  margin: 4px 0;
  font-size: var(--text);
}
dl div {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
dt {
  color: var(--muted);
}
dd {
  margin: 0;
  font-weight: 600;
}
.terms {
  list-style: none;
  padding: 0;
  margin: 6px 0 0;
  font-size: var(--text);
  line-height: 1.35;
}
.terms b {
  display: inline-block;
  min-width: 26px;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: var(--text);
  line-height: 1.25;
}
th,
td {
  text-align: left;
  padding: 3px 8px 3px 0;
  border-bottom: 1px solid var(--hair);
  vertical-align: top;
}
thead th {
  color: var(--muted);
  font-weight: 500;
}
tbody th {
  font-weight: 600;
  min-width: 108px;
}
.after {
  border-left: 1px solid var(--edge);
  padding-left: 8px;
}
.changed {
  color: var(--teal);
  font-weight: 600;
}
.lost .changed {
  color: var(--ochre);
}
h3 {
  font-size: var(--text);
  margin: 8px 0 2px;
}
ol {
  margin: 0;
  padding-left: 18px;
  font-size: var(--text);
  line-height: 1.35;
}
.old :deep(.field) {
  grid-template-columns: minmax(0, 1fr) 82px 0;
}
.old :deep(.origin) {
  display: none;
}
@media (max-width: 1000px) {
  .old {
    grid-template-columns: minmax(0, 1fr);
  }
  .old > section:nth-child(n) {
    grid-column: 1 / -1;
    overflow: auto hidden;
  }
  .chip,
  .choice {
    min-height: 36px;
  }
}
</style>
