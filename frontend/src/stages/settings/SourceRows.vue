<script setup lang="ts">
/** All that charges this battery: who fills it, who stalls, what to do about each. */
import type { Audit, AuditedSource } from '../../api/types'
import { useJob } from '../../job/store'
import ChoiceField from '../../ui/ChoiceField.vue'
import { fixed, said } from '../../ui/locale'
import { DASHES } from './curves'
import { money } from '../../ui/format'

defineProps<{ audit: Audit }>()
const chosen = defineModel<string>({ required: true })
const job = useJob()
const GLYPH = { keep: '✓', reset: '▲', replace: '▲', disconnect: '■' } as const
const TONE = { keep: 'good', reset: 'caution', replace: 'caution', disconnect: 'stop' } as const
const WAKES = { yes: 'yes', no: 'no', unknown: 'not known', not_needed: '–' } as const
const hours = (value: number | null | undefined) =>
  value === null || value === undefined ? '' : `${fixed(value, 1)} h`
function take(item: AuditedSource): void {
  if (item.remedy) job.change([...item.remedy.changes])
}
</script>

<template>
  <div class="sources">
    <table>
      <thead>
        <tr>
          <th>source</th>
          <th class="num">95 % after</th>
          <th class="num">stalls at</th>
          <th class="num">wakes it</th>
          <th class="num" title="What it could give in this job's week">kWh a week</th>
          <th>do</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(item, at) in audit.sources"
          :key="item.key"
          :class="{ here: item.key === chosen }"
          :data-source="item.key"
        >
          <td>
            <button type="button" class="plain name" :aria-pressed="item.key === chosen" @click="chosen = item.key">
              <svg width="26" height="8" aria-hidden="true">
                <path d="M0 4H26" :class="['stroke', item.kind]" :stroke-dasharray="DASHES[at % DASHES.length]" /></svg
              >{{ item.label
              }}<small class="muted"
                >{{ fixed(item.rated_a, 0) }}&nbsp;A, {{ fixed(item.lead_mohm, 0) }}&nbsp;mΩ{{
                  item.lead_known ? '' : ' taken'
                }}</small
              >
            </button>
          </td>
          <td class="num" data-name="95 % after" :class="{ stop: item.hours_95 === null }">
            {{ item.hours_95 === null ? 'never' : hours(item.hours_95) }}
          </td>
          <td class="num" data-name="stalls at" :class="{ stop: item.stalls_at !== null }">
            {{
              item.stalls_at === null || item.stalls_at === undefined ? '–' : `${Math.round(item.stalls_at * 100)} %`
            }}
          </td>
          <td class="num" data-name="wakes it">{{ WAKES[item.wakes] }}</td>
          <td class="num" data-name="kWh a week">
            {{ item.kwh_week === null || item.kwh_week === undefined ? '–' : fixed(item.kwh_week, 1) }}
          </td>
          <td class="do">
            <span :class="TONE[item.verdict]">{{ GLYPH[item.verdict] }} {{ said(item.text) }}</span>
            <small v-if="item.verdict !== 'keep'" class="muted">
              {{ fixed(item.hours, 1) }}&nbsp;h, about {{ money(item.cost, 0) }}</small
            >
            <small v-for="harm in item.harms" :key="harm.text" class="muted">{{ said(harm.text) }}</small>
            <button v-if="item.remedy" type="button" class="link" @click="take(item)">{{ item.remedy.label }}</button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="audit.together_text" class="muted">{{ said(audit.together_text) }}</p>
    <ChoiceField v-if="audit.sources.length > 1" path="choices.upgrade_school" />
    <p v-if="audit.order.length" class="order">{{ said(audit.order_text) }}</p>
  </div>
</template>

<style scoped>
.sources {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: var(--text);
}
th {
  text-align: left;
  font-weight: 500;
  color: var(--muted);
  font-size: var(--small);
  padding: 2px 8px 3px 0;
  white-space: nowrap;
}
td {
  padding: 5px 8px 5px 0;
  border-top: 1px solid var(--hair);
  vertical-align: top;
}
.num {
  text-align: right;
  white-space: nowrap;
}
.here td {
  background: var(--copper-wash);
}
.name {
  min-width: 128px;
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr);
  align-items: center;
  text-align: left;
  font-weight: 600;
  min-height: 24px;
}
.name small {
  grid-column: 2;
  font-weight: 400;
}
.stroke {
  stroke: var(--muted);
  stroke-width: 2;
  fill: none;
}
.stroke.unit {
  stroke: var(--teal);
}
.stroke.solar {
  stroke: var(--ochre);
}
.stroke.mains_charger,
.stroke.portable_charger,
.stroke.built_in_charger,
.stroke.link {
  stroke: var(--copper);
}
.do {
  min-width: 170px;
  line-height: 1.35;
}
.do small {
  display: block;
}
.order {
  margin-top: 4px;
}
@media (max-width: 700px) {
  thead {
    display: none;
  }
  tr {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    border-top: 1px solid var(--hair);
    padding: 4px 0;
  }
  td {
    border: 0;
    padding: 2px 6px;
  }
  td:first-child,
  .do {
    grid-column: 1 / 3;
  }
  td.num {
    grid-column: 1 / 3;
    display: flex;
    justify-content: space-between;
  }
  td.num::before {
    content: attr(data-name);
    color: var(--muted);
    font-weight: 400;
  }
  .name,
  .do .link {
    min-height: 44px;
  }
}
</style>
