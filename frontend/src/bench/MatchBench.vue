<script setup lang="ts">
/** Which unit: the limits ruler, the shelf judged, isolated or not, and the contrast with a plain link. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '../api/client'
import type { UnitVerdict } from '../api/types'
import ChoiceField from '../fields/ChoiceField.vue'
import NumberField from '../fields/NumberField.vue'
import { BUDGET, MOUNT } from '../fields/options'
import { useCatalogue } from '../job/catalogue'
import { quantity } from '../job/format'
import { useJob } from '../job/store'
import LimitsRuler from './LimitsRuler.vue'

const emit = defineEmits<{ working: [name: string] }>()
const job = useJob()
const { data: catalogue } = useCatalogue()
const { data: verdicts } = useQuery({
  queryKey: ['match', computed(() => job.assessed)],
  queryFn: () => (job.design === null ? { units: [] } : answered(client.POST('/api/match', { body: job.design }))),
  placeholderData: keepPreviousData, gcTime: 0,
})
const units = computed(() => verdicts.value?.units ?? [])
const FIT: Record<UnitVerdict['fit'], string> = { fits: '✓ fits', turned_down: '▽ turned down', no: '✕ does not fit' }
const isolation = computed(() => job.assessment?.figures['match.isolation_needed'])
const link = computed(() => job.assessment?.figures['match.direct_link_a'])
const belief = 'Isolation does not make it charge better; either kind suits any chemistry.'

function choose(verdict: UnitVerdict): void {
  const unit = catalogue.value?.chargers.find((item) => item.id === verdict.id)
  if (unit) job.change([{ path: 'charger', value: unit }, { path: 'current_limit_a', value: verdict.set_to_a }])
}
</script>

<template>
  <div class="match">
    <section class="panel rule" aria-label="Limits ruler">
      <div class="bench-head"><h2>Limits ruler</h2><span class="aside">output current each limit allows</span></div>
      <LimitsRuler :units="units" />
      <div class="fields">
        <ChoiceField path="choices.alternator_school" label="Alternator budget" :options="BUDGET" />
        <NumberField path="current_limit_a" label="Unit set to" unit="A" :fallback="job.design?.charger ? `full, ${job.design.charger.output_a}` : 'no unit'" :step="1" />
        <ChoiceField path="mount.place" label="Mounted in" :options="MOUNT" />
        <NumberField path="mount.ambient_c" label="Ambient there" unit="°C" origin="measured" :step="1" />
      </div>
    </section>
    <section class="panel units" aria-label="Units on the shelf">
      <div class="bench-head"><h2>Units on the shelf</h2><span class="aside">clean fits first</span></div>
      <table>
        <thead><tr><th>Unit</th><th class="num">A</th><th>Kind</th><th class="num">€</th><th>Verdict</th><th><span class="visually-hidden">Choose</span></th></tr></thead>
        <tbody>
          <tr v-for="unit in units" :key="unit.id" :class="{ chosen: unit.id === job.design?.charger?.id, no: unit.fit === 'no' }" :data-unit="unit.id">
            <td class="unit-name">{{ unit.name }}</td><td class="num">{{ unit.output_a }}</td><td class="kind">{{ unit.isolated ? 'isolated' : 'non-isolated' }}</td><td class="num">{{ unit.price }}</td>
            <td><span :class="unit.fit">{{ FIT[unit.fit] }}{{ unit.set_to_a ? ` to ${unit.set_to_a} A` : '' }}</span> <span class="muted">{{ unit.reason }}</span></td>
            <td><span v-if="unit.id === job.design?.charger?.id" class="in">in the design</span><button v-else type="button" class="link" :aria-label="`choose ${unit.name}`" @click="choose(unit)">choose</button></td>
          </tr>
        </tbody>
      </table>
      <p v-if="units.length === 0" class="muted">Judging the shelf…</p>
      <div v-if="isolation" class="verdict">
        <p><b>{{ isolation.value ? 'Isolated unit wanted' : 'Non-isolated will do' }}</b> — {{ isolation.working }}. {{ belief }}</p>
        <p v-if="link"><b>A plain link instead</b> would draw <button type="button" class="plain figure" :data-figure="link.name" @click="emit('working', link.name)">{{ quantity(link.value, 'A') }}</button> in the first moment at hot idle, limited only by resistance. The charger fixes it at {{ quantity(job.assessment?.figures['output.current_a']?.value, 'A') }}.</p>
      </div>
    </section>
  </div>
</template>

<style scoped>
.match { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr); gap: 10px; min-height: 0; }
section { padding: 9px 12px; overflow: auto; min-height: 0; }
.fields { display: grid; grid-template-columns: 1fr 1fr; gap: 0 14px; margin-top: 8px; border-top: 1px solid var(--hair); padding-top: 6px; }
.fields :deep(.field) { grid-template-columns: minmax(66px, 1fr) 86px 46px; }
.fields :deep(.field:has(.p-select)) { grid-template-columns: minmax(66px, 1fr) 138px; }
table { width: 100%; border-collapse: collapse; font-size: 13px; }
th { text-align: left; font-weight: 500; color: var(--muted); font-size: 12px; padding: 2px 8px 3px 0; border-bottom: 1px solid var(--edge); }
td { padding: 3.5px 8px 3.5px 0; border-bottom: 1px solid var(--hair); vertical-align: top; }
.kind { white-space: nowrap; } .num { text-align: right; } .unit-name { font-weight: 600; white-space: nowrap; }
.chosen td { background: var(--copper-wash); } .no td { color: var(--muted); } .in { font-size: 12px; color: var(--copper); white-space: nowrap; }
.fits { color: var(--verdigris); font-weight: 600; } .turned_down { color: var(--ochre); font-weight: 600; } td .no { color: var(--madder); }
.verdict { margin-top: 8px; font-size: 13px; line-height: 1.4; display: grid; gap: 4px; }
.figure { font-weight: 600; border-bottom: 1px dotted var(--edge); }
@media (max-width: 900px) { .match { grid-template-columns: minmax(0, 1fr); } section { overflow: visible; } .fields { grid-template-columns: minmax(0, 1fr); } table { display: block; overflow-x: auto; } }
</style>
