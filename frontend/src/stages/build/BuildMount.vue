<script setup lang="ts">
/** Mounting: where the unit sits, what closes it in, what lies near; and what it gives there. */
import { computed } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import { FIELDS } from '../../api/fields.gen'
import { useJob } from '../../job/store'
import AnswerState from '../../ui/AnswerState.vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import TickField from '../../ui/TickField.vue'
import { fixed, said } from '../../ui/locale'
import MountCurve from './MountCurve.vue'
import NearField from './NearField.vue'
import { measured, quantity } from '../../ui/format'

const job = useJob()
const { data, pending, trouble } = useDerived(
  'mount',
  (body, signal) => answered(client.POST('/api/build/mount', { body, signal })),
  { pause_ms: 80 },
)
const mount = computed(() => job.design?.mount)
const closed = computed(() => mount.value?.around === 'vents' || mount.value?.around === 'shut')
const report = computed(() => data.value?.mount ?? null)
/** Where the unit stands on the curve: only while its air is worked out, and its openings are alike. */
const here = computed(() => {
  const { ambient_c, around, vent_low_cm2 = 0, vent_high_cm2 = 0, fan_m3_h = 0 } = mount.value ?? {}
  if (typeof ambient_c === 'number' || fan_m3_h > 0) return null
  if (around === 'shut') return 0
  return vent_low_cm2 === vent_high_cm2 ? vent_low_cm2 : null
})
const many = computed(() => (job.design?.units ?? 1) > 1)
function cut(): void {
  const each = report.value?.enough_cm2
  if (typeof each !== 'number') return
  job.change([
    { path: 'mount.around', value: 'vents' },
    { path: 'mount.vent_low_cm2', value: each },
    { path: 'mount.vent_high_cm2', value: each },
  ])
}
const place = FIELDS['mount.place']?.label
</script>

<template>
  <div class="mount">
    <section class="panel" :aria-label="place">
      <div class="bench-head"><h2>Place</h2></div>
      <ChoiceField path="mount.place" />
      <ChoiceField path="mount.around" />
      <ChoiceField path="mount.orientation" />
      <ChoiceField path="mount.backing" />
      <NumberField v-if="many" path="mount.spacing_mm" origin="measured" fallback="its free air" />
      <NumberField path="mount.ambient_c" origin="measured" />
      <template v-if="closed">
        <NumberField path="mount.room_c" origin="entered" :fallback="report ? fixed(report.room_c, 0) : ''" />
        <NumberField path="mount.width_mm" origin="measured" fallback="500" />
        <NumberField path="mount.height_mm" origin="measured" fallback="400" />
        <NumberField path="mount.depth_mm" origin="measured" fallback="300" />
      </template>
      <template v-if="mount?.around === 'vents'">
        <NumberField path="mount.vent_low_cm2" origin="entered" />
        <NumberField path="mount.vent_high_cm2" origin="entered" />
        <NumberField path="mount.vent_apart_mm" origin="measured" fallback="most of its height" />
      </template>
      <NumberField path="mount.fan_m3_h" origin="entered" />
    </section>
    <section class="panel" aria-label="What it gives there">
      <div class="bench-head">
        <h2>What it gives there</h2>
        <span class="aside">on a hot day, at full current</span>
      </div>
      <template v-if="report">
        <p class="answer" :class="report.yield_a < report.wanted_a - 0.05 ? 'caution' : 'good'">
          {{ fixed(report.yield_a, 1) }}&nbsp;A
        </p>
        <p>{{ said(report.text) }}</p>
        <dl>
          <div>
            <dt>Air in the room</dt>
            <dd>{{ quantity(report.room_c, '°C') }}</dd>
          </div>
          <div>
            <dt>Air at the unit</dt>
            <dd>{{ quantity(report.air_c, '°C') }}</dd>
          </div>
          <div v-if="report.felt_c > report.air_c + 0.05">
            <dt>As its fins stand, like air of</dt>
            <dd>{{ quantity(report.felt_c, '°C') }}</dd>
          </div>
          <div>
            <dt>Its case</dt>
            <dd>{{ quantity(report.case_c, '°C') }}</dd>
          </div>
          <div>
            <dt>Heat it gives off</dt>
            <dd>{{ fixed(report.heat_w, 0) }}&nbsp;W</dd>
          </div>
        </dl>
        <ul v-if="report.advice.length" class="advice">
          <li v-for="item in report.advice" :key="item">{{ said(item) }}</li>
        </ul>
        <button
          v-if="typeof report.enough_cm2 === 'number' && report.yield_a < report.wanted_a - 0.05"
          type="button"
          class="link"
          @click="cut"
        >
          Cut two openings of {{ measured(report.enough_cm2, 'cm²', 0) }}
        </button>
        <template v-if="report.curve.length">
          <h3>Against the size of two openings</h3>
          <MountCurve :report="report" :here="here" />
        </template>
      </template>
      <p v-else-if="data" class="muted">Choose a unit in Match first.</p>
      <AnswerState :pending="pending" :trouble="trouble" doing="Letting it warm up…" />
    </section>
    <section class="panel" aria-label="What lies near">
      <div class="bench-head"><h2>What lies near</h2></div>
      <p class="muted">Within half a metre of the unit. Asked, not assumed: look, then tick.</p>
      <NearField />
      <TickField path="mount.near_asked" />
      <p class="muted">
        Fins upright, free air all round, metal or fireproof board, dry. Never on plastic, never in a sealed box.
      </p>
    </section>
  </div>
</template>

<style scoped>
.mount {
  display: grid;
  grid-template-columns: minmax(280px, 0.9fr) minmax(0, 1.2fr) minmax(200px, 0.7fr);
  gap: 10px;
  align-items: start;
}
.answer {
  font-size: var(--answer);
  font-weight: 600;
}
dl {
  margin: 8px 0;
}
dl div {
  display: flex;
  justify-content: space-between;
  max-width: 320px;
  border-bottom: 1px solid var(--hair);
  padding: 2px 0;
}
dd {
  margin: 0;
  font-weight: 600;
}
.advice {
  margin: 6px 0;
  padding-left: 18px;
}
p {
  margin: 2px 0 6px;
}
@media (max-width: 1100px) {
  .mount {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
