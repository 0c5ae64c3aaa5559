<script setup lang="ts">
/** Units of the shelf, fitted to this job and ranked; one press takes one, with or without its runs. */
import { entered, fixed } from '../../ui/locale'
import type { UnitVerdict } from '../../api/types'
import { useJob } from '../../job/store'
import { UNITS } from '../../ui/units'
import { tied } from '../../ui/tied'

defineProps<{ units: UnitVerdict[] }>()
const emit = defineEmits<{ choose: [unit: UnitVerdict]; whole: [unit: UnitVerdict] }>()
const job = useJob()
const FIT: Record<UnitVerdict['fit'], string> = { fits: '✓ fits', turned_down: '▽ turned down', no: '✕ does not fit' }
const fitOf = (unit: UnitVerdict) =>
  unit.fit !== 'no' && unit.cautious ? FIT[unit.fit].replace('✓', '▲') : FIT[unit.fit]
</script>

<template>
  <table>
    <thead>
      <tr>
        <th>Unit</th>
        <th class="num">A</th>
        <th class="num" title="Unit, cables and devices together">{{ UNITS.currency }} fitted</th>
        <th class="num" title="Charge returned per driving hour">Ah/h</th>
        <th class="num" title="By the weights above, 0 to 100">score</th>
        <th>Verdict</th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="unit in units"
        :key="unit.id"
        :class="{ chosen: unit.id === job.design?.charger?.id, no: unit.fit === 'no' }"
        :data-unit="unit.id"
      >
        <td class="unit-name">
          {{ unit.name }}<small class="muted">{{ unit.isolated ? 'isolated' : 'non-isolated' }}</small>
        </td>
        <td class="num">{{ entered(unit.output_a) }}</td>
        <td class="num">{{ unit.price === null ? '–' : fixed(unit.price, 0) }}</td>
        <td class="num">{{ unit.rate_ah_per_h === null ? '–' : fixed(unit.rate_ah_per_h, 1) }}</td>
        <td class="num">{{ unit.score === null ? '–' : fixed(unit.score, 0) }}</td>
        <td class="verdict">
          <span :class="unit.cautious ? 'caution-word' : unit.fit"
            >{{ fitOf(unit) }}{{ unit.set_to_a && unit.fit !== 'no' ? ` to ${entered(unit.set_to_a)} A` : '' }}</span
          >
          <span class="muted">{{ tied(unit.reason) }}</span>
          <span v-if="unit.supply" class="muted runs">{{ unit.supply }} · {{ unit.delivery }}</span>
          <span class="acts"
            ><span v-if="unit.id === job.design?.charger?.id" class="in">in the design</span
            ><button
              v-else
              type="button"
              class="link"
              :aria-label="`choose ${unit.name}`"
              @click="emit('choose', unit)"
            >
              choose
            </button>
            <button
              v-if="unit.fit !== 'no'"
              type="button"
              class="link"
              :aria-label="`choose ${unit.name} with these runs`"
              @click="emit('whole', unit)"
            >
              with these runs
            </button></span
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
th {
  text-align: left;
  font-weight: 500;
  color: var(--muted);
  font-size: var(--small);
  padding: 2px 8px 3px 0;
  border-bottom: 1px solid var(--edge);
  white-space: nowrap;
}
td {
  padding: 3.5px 8px 3.5px 0;
  border-bottom: 1px solid var(--hair);
  vertical-align: top;
}
.num {
  text-align: right;
}
.unit-name {
  font-weight: 600;
  white-space: nowrap;
}
.unit-name small {
  display: block;
  font-weight: 400;
  font-size: var(--small);
}
.chosen td {
  background: var(--copper-wash);
}
.no td {
  color: var(--muted);
}
.in {
  font-size: var(--small);
  color: var(--copper);
  white-space: nowrap;
}
.verdict {
  line-height: 1.3;
}
.runs {
  display: block;
  font-family: var(--narrow);
  font-size: var(--small);
}
.acts {
  display: inline-flex;
  gap: 12px;
  font-size: var(--text);
}
.fits {
  color: var(--verdigris);
  font-weight: 600;
}
.turned_down,
.caution-word {
  color: var(--ochre);
  font-weight: 600;
}
.verdict .no {
  color: var(--madder);
}
@media (max-width: 1100px) {
  .unit-name {
    white-space: normal;
  }
  .acts button {
    min-height: 44px;
  }
}
</style>
