<script setup lang="ts">
/** The vehicle as found. Measured values override defaults, and say so. */
import { computed } from 'vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import TickField from '../../ui/TickField.vue'
import { shelved } from './shelved'
import type { Column } from '../../ui/CellField.vue'
import ListField from '../../ui/ListField.vue'
import { useCatalogue } from '../../job/catalogue'
import { capital, useDrive } from '../../job/drive'
import { useJob } from '../../job/store'
import { useWorkings } from '../../job/workings'
import SelectField from '../../ui/SelectField.vue'

const job = useJob()
const drive = useDrive()
const { data: catalogue } = useCatalogue()
const open = computed(() => job.assessment?.stages.survey?.missing ?? [])
const batteries = computed(() => catalogue.value?.batteries ?? [])
const alternators = computed(() =>
  (catalogue.value?.alternators ?? []).filter((item) => item.nominal_v === (job.design?.vehicle.system_v ?? 12)),
)
const batteryChoices = computed(() => batteries.value.map((item) => ({ value: item.id, label: item.battery.name })))
const alternatorChoices = computed(() =>
  alternators.value.map((item) => ({ value: item.id, label: item.alternator.name })),
)
const battery = computed({
  get: () => batteries.value.find((item) => item.battery.name === job.design?.auxiliary?.name)?.id ?? null,
  set: (id: string | null) => {
    const chosen = batteries.value.find((item) => item.id === id)
    if (chosen && job.design)
      job.change([
        ...shelved(job.design, 'auxiliary', chosen.battery),
        { path: 'site.auxiliary_price', value: chosen.price || null },
      ])
  },
})
const alternator = computed({
  get: () => alternators.value.find((item) => item.alternator.name === job.design?.vehicle.alternator.name)?.id ?? null,
  set: (id: string | null) => {
    const chosen = alternators.value.find((item) => item.id === id)
    if (chosen && job.design) job.change(shelved(job.design, 'vehicle.alternator', chosen.alternator))
  },
})
const LIFTERS: Column[] = [
  { key: 'kind', kind: 'choice', width: 'minmax(0, 1.5fr)' },
  { key: 'lifts_to_v', kind: 'number', placeholder: '13.8' },
]
const workings = useWorkings()
const stud = computed(() => job.design?.vehicle.source_point?.kind === 'fused_stud')
const verdict = computed(() => {
  const figure = job.assessment?.figures['match.isolation_needed']
  return figure ? { needed: figure.value === 1, why: workings.value[figure.name]?.working ?? '' } : null
})
// What was entered once is never out of sight, and a DC converter may lower its volts on the way too.
const lowPhased = computed(
  () =>
    (job.design?.vehicle.alternator.regulation === 'managed' && !drive.ready.value) ||
    (job.design?.vehicle.readings?.low_phase_v ?? null) !== null,
)
</script>

<template>
  <div class="survey">
    <section class="panel" aria-label="Vehicle">
      <div class="bench-head"><h2>Vehicle</h2></div>
      <ChoiceField path="vehicle.system_v" />
      <ChoiceField path="vehicle.drive" />
      <ChoiceField path="vehicle.chassis.body" />
      <NumberField path="vehicle.chassis.bonding_mohm" origin="measured" fallback="open" />
      <p v-if="verdict" class="verdict" :class="verdict.needed ? 'caution' : 'good'">
        {{ verdict.needed ? '▲ Isolated unit wanted' : '✓ Non-isolated will do'
        }}<span class="muted">: {{ verdict.why }}</span>
      </p>
      <TickField path="vehicle.chassis.trailer" />
      <h3>Signals to be had</h3>
      <TickField path="vehicle.signals.ignition" />
      <TickField path="vehicle.signals.d_plus" />
      <h3>Supply run starts at</h3>
      <ChoiceField path="vehicle.source_point.kind" />
      <NumberField v-if="stud" path="vehicle.source_point.rating_a" origin="datasheet" fallback="open" />
      <NumberField path="distances.supply_m" origin="measured" fallback="open" />
      <NumberField path="distances.delivery_m" origin="measured" fallback="open" />
    </section>
    <section class="panel" :aria-label="`${capital(drive.source.value)} and start battery`">
      <div class="bench-head">
        <h2>{{ capital(drive.source.value) }} and start battery</h2>
      </div>
      <SelectField
        v-model="alternator"
        label="From shelf"
        :options="alternatorChoices"
        placeholder="not from the shelf"
      />
      <NumberField path="vehicle.alternator.rated_a" origin="datasheet" />
      <ChoiceField v-if="!drive.ready.value" path="vehicle.alternator.regulation" />
      <NumberField path="vehicle.alternator.hot_idle_share" origin="measured" />
      <NumberField path="vehicle.alternator.loads_idle_a" origin="measured" />
      <NumberField path="vehicle.alternator.loads_cruise_a" origin="measured" />
      <NumberField path="vehicle.alternator.sag_mohm" origin="measured" />
      <ChoiceField path="vehicle.start_battery.chemistry" />
      <NumberField path="vehicle.start_battery.capacity_ah" origin="datasheet" />
      <TickField path="vehicle.start_battery.negative_sensor" />
      <NumberField path="vehicle.standing_drain_ma" origin="measured" />
      <h3>Lifts it with the {{ drive.off.value }}</h3>
      <ListField
        path="vehicle.lifters"
        what="lifter"
        :columns="LIFTERS"
        :blank="{ kind: 'solar', lifts_to_v: null }"
        empty="Nothing noted."
      />
    </section>
    <section class="panel" aria-label="Readings">
      <div class="bench-head"><h2>Volts at the start battery</h2></div>
      <NumberField path="vehicle.readings.rest_v" origin="measured" />
      <NumberField path="vehicle.readings.after_stop_v" origin="measured" />
      <NumberField path="vehicle.readings.idle_v" origin="measured" />
      <NumberField path="vehicle.readings.cruise_v" origin="measured" />
      <NumberField
        v-if="lowPhased || drive.ready.value"
        path="vehicle.readings.low_phase_v"
        origin="measured"
        :fallback="drive.ready.value ? 'none' : ''"
      />
      <NumberField v-if="lowPhased" path="vehicle.readings.low_phase_s" origin="measured" fallback="120" />
      <p class="hint muted">
        Meter on the posts, charger idle, lights and blower on {{ drive.ready.value ? 'standing ready' : 'at idle' }}.
        An empty entry takes its default, shown faint.
      </p>
      <template v-if="open.length"
        ><h3>Still assumed</h3>
        <p class="open">{{ open.join(' · ') }}</p></template
      >
    </section>
    <section class="panel" aria-label="Auxiliary battery and use">
      <div class="bench-head"><h2>Auxiliary battery and use</h2></div>
      <SelectField v-model="battery" label="From shelf" :options="batteryChoices" placeholder="not from the shelf" />
      <ChoiceField path="auxiliary.chemistry" />
      <ChoiceField path="auxiliary.nominal_v" />
      <NumberField path="auxiliary.capacity_ah" origin="datasheet" />
      <NumberField path="auxiliary.charge_limit_a" origin="datasheet" />
      <NumberField path="auxiliary.absorption_v" origin="datasheet" />
      <NumberField path="use.daily_ah" origin="entered" fallback="open" />
      <NumberField path="use.drive_h" origin="entered" fallback="open" />
      <NumberField path="use.loads_driving_a" origin="entered" />
    </section>
  </div>
</template>

<style scoped>
.survey {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
}
.verdict {
  font-size: var(--text);
  line-height: 1.3;
  padding: 1px 0 3px;
}
.hint,
.open {
  font-size: var(--text);
  line-height: 1.35;
  margin-top: 6px;
}
.open {
  color: var(--ochre);
  margin-top: 0;
}
.survey > section:nth-child(-n + 2) {
  grid-row: span 2;
}
.survey > section:nth-child(4) {
  grid-column: 3;
}
@media (max-width: 1100px) {
  .survey {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: none;
  }
  .survey > section:nth-child(n) {
    grid-row: auto;
    grid-column: 1;
    overflow: visible;
  }
}
</style>
