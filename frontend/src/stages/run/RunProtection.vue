<script setup lang="ts">
/** Every device against everything it is held to: current, cable, volts, short circuit, far end, place. */
import { entered, fixed } from '../../ui/locale'
import { computed } from 'vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import { inHouse, measured, quantity } from '../../ui/format'
import { placed } from '../../job/pieces'
import FindingWays from '../../job/FindingWays.vue'
import { useRemedies } from '../../job/remedies'
import { useJob } from '../../job/store'
import { unitSaid } from '../../ui/units'
import { tied } from '../../ui/tied'

const emit = defineEmits<{ pick: [place: string] }>()
const job = useJob()
const { ways } = useRemedies()
const devices = computed(() => job.assessment?.devices ?? [])
const WORD = { good: '✓ passes', note: '✓ passes', caution: '▲ look again', stop: '■ wrong' }
const findings = computed(() =>
  (job.assessment?.findings ?? []).filter((item) => /^(protect|run\.plug|run\.parallel)/.test(item.id)),
)
function where(place: string): string {
  const at = placed(job.design, place)
  return at === null ? '' : `${at.run}, piece ${at.index + 1}`
}
const GLYPH = { stop: '■', caution: '▲', note: '●' }
</script>

<template>
  <div class="protect">
    <section class="panel" aria-label="Protection">
      <div class="bench-head">
        <h2>Protection</h2>
        <span class="aside">a device guards its cable: {{ entered(1.25) }} · I ≤ rating ≤ ampacity</span>
      </div>
      <div class="scroll">
        <table>
          <thead>
            <tr>
              <th>Device</th>
              <th class="num">{{ entered(1.25) }}&nbsp;·&nbsp;I<br />A</th>
              <th class="num">Rating<br />A</th>
              <th class="num">Ampacity<br />A</th>
              <th class="num">System max<br />V</th>
              <th class="num">Rated<br />V</th>
              <th class="num">Short here<br />A</th>
              <th class="num">Breaks<br />A</th>
              <th class="num">Far-end short<br />÷ rating</th>
              <th class="num">From post<br />{{ unitSaid('m') }}</th>
              <th>Verdict</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="device in devices" :key="device.place + device.label" :data-device="device.place">
              <th scope="row">
                <button type="button" class="link" @click="emit('pick', device.place)">
                  {{ tied(device.label) }}</button><small class="muted">{{ where(device.place) }}</small>
              </th>
              <td class="num" :class="{ bad: device.least_a > device.rating_a }">{{ fixed(device.least_a, 1) }}</td>
              <td class="num strong">{{ entered(device.rating_a) }}</td>
              <td class="num" :class="{ bad: device.ceiling_a !== null && device.ceiling_a < device.rating_a }">
                {{ device.ceiling_a === null ? '–' : fixed(device.ceiling_a, 0) }}
              </td>
              <td class="num">{{ device.system_v }}</td>
              <td class="num" :class="{ bad: device.voltage_v < device.system_v }">{{ entered(device.voltage_v) }}</td>
              <td class="num">{{ fixed(device.prospective_a, 0) }}</td>
              <td class="num" :class="{ bad: device.interrupt_a < device.prospective_a && !device.backed }">
                {{ fixed(device.interrupt_a, 0)
                }}<small v-if="device.interrupt_a < device.prospective_a && device.backed" class="muted"
                  >the device above breaks it</small
                >
              </td>
              <td class="num">{{ fixed(device.fault_multiple, 1) }}</td>
              <td class="num">{{ device.holder_m === null ? '–' : inHouse(device.holder_m, 'm', 1) }}</td>
              <td :class="device.verdict === 'note' ? 'good' : device.verdict">
                <b>{{ WORD[device.verdict] }}</b>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="devices.length === 0" class="muted">
        There is no protective device in either run yet. Use the remedy beside the finding, or add one under Pieces and
        sizes.
      </p>
      <ul>
        <li v-for="finding in findings" :key="finding.id">
          <span :class="finding.level">{{ GLYPH[finding.level] }}</span> <b>{{ tied(finding.title) }}.</b>
          <span class="muted">{{ tied(finding.text) }}</span>
          <FindingWays :finding="finding" :ways="ways.get(finding.id)" />
        </li>
      </ul>
    </section>
    <section class="panel" aria-label="Schools">
      <div class="bench-head"><h2>Rules applied</h2></div>
      <ChoiceField path="choices.protection_school" />
      <ChoiceField path="choices.ampacity_school" />
      <NumberField path="choices.fault_multiple" />
      <NumberField path="choices.slack" />
      <p class="muted small">
        The holder sits at most {{ measured(job.design?.choices?.holder_m ?? 0.2, 'm', 2) }} of cable from the post (ISO
        10133 form). The short circuit is the larger of V / (R battery + R path) and, for lithium, 10 A per Ah.
        {{ quantity(job.assessment?.figures['supply.continuous_a']?.value, 'A') }} continuous at the input is P / V at
        the lowest surveyed running volts at full current.
      </p>
    </section>
  </div>
</template>

<style scoped>
.protect {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 240px;
  gap: 10px;
}
.scroll {
  overflow-x: auto;
}
thead th {
  color: var(--muted);
  font-weight: 500;
  font-size: var(--small);
  line-height: 1.15;
  text-align: left;
  vertical-align: bottom;
  padding: 0 9px 4px 0;
  border-bottom: 1px solid var(--edge);
}
tbody th {
  text-align: left;
  font-weight: 400;
  white-space: nowrap;
  padding: 4px 10px 4px 0;
  border-bottom: 1px solid var(--hair);
}
tbody th small {
  display: block;
  font-size: var(--small);
}
td {
  padding: 4px 9px 4px 0;
  border-bottom: 1px solid var(--hair);
  vertical-align: top;
  white-space: nowrap;
}
.scroll .num {
  text-align: right;
}
.strong {
  font-weight: 600;
}
.bad {
  color: var(--madder);
  font-weight: 600;
  text-decoration: underline wavy;
  text-underline-offset: 3px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
  display: grid;
  gap: 5px;
  font-size: var(--text);
  line-height: 1.35;
}
li .link {
  margin-left: 6px;
}
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin-top: 8px;
}
@media (max-width: 1100px) {
  .protect {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
