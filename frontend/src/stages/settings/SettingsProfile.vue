<script setup lang="ts">
/** The charge profile: what the unit is to hold, each part with where it comes from. */
import { computed } from 'vue'
import { useJob } from '../../job/store'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import TickField from '../../ui/TickField.vue'

const job = useJob()
const equalises = computed(() => job.design?.charge?.equalise === true)
/** Whose volts count where none are typed: another chemistry's profile knows nothing of this battery. */
const otherwise = computed(() => {
  const profile = job.design?.charge?.profile
  return profile && profile !== job.design?.auxiliary?.chemistry ? "profile's" : "battery's"
})
</script>

<template>
  <div class="profile">
    <section class="panel" aria-label="What the unit is to hold">
      <div class="bench-head">
        <h2>What the unit is to hold</h2>
        <span class="aside">empty: the {{ otherwise }} own</span>
      </div>
      <ChoiceField path="charge.profile" />
      <NumberField path="charge.absorption_v" origin="entered" :fallback="otherwise" />
      <NumberField path="charge.absorption_h" origin="entered" fallback="usual" />
      <ChoiceField path="charge.absorbed_by" />
      <NumberField path="charge.tail_a" origin="entered" fallback="usual" />
      <ChoiceField path="charge.after" />
      <NumberField path="charge.float_v" origin="entered" :fallback="otherwise" />
      <NumberField path="charge.rebulk_v" origin="entered" fallback="usual" />
      <NumberField path="charge.bulk_h" origin="entered" fallback="no cap" />
    </section>
    <section class="panel" aria-label="Equalising, temperature">
      <div class="bench-head"><h2>Equalising, temperature</h2></div>
      <TickField path="charge.equalise" />
      <NumberField v-if="equalises" path="charge.equalise_v" origin="entered" fallback="usual" />
      <NumberField v-if="equalises" path="charge.equalise_days" />
      <NumberField path="charge.compensation_mv_per_k" origin="entered" fallback="usual" />
      <NumberField path="charge.cold_c" origin="entered" fallback="none" />
      <NumberField path="charge.hot_c" origin="entered" fallback="none" />
    </section>
    <section class="panel" aria-label="What the battery says">
      <div class="bench-head"><h2>What the battery says</h2></div>
      <NumberField path="auxiliary.absorption_v" origin="datasheet" />
      <NumberField path="auxiliary.float_v" origin="datasheet" fallback="usual" />
      <NumberField path="auxiliary.charge_limit_a" origin="datasheet" />
      <NumberField path="auxiliary.charge_min_c" origin="datasheet" fallback="usual" />
      <TickField path="auxiliary.low_temperature_cut_off" />
      <NumberField path="auxiliary.temperature_min_c" origin="entered" fallback="not known" />
      <NumberField path="auxiliary.temperature_max_c" origin="entered" fallback="not known" />
    </section>
  </div>
</template>

<style scoped>
.profile {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 10px;
  align-items: start;
}
@media (max-width: 1100px) {
  .profile {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
