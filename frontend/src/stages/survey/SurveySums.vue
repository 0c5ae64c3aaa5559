<script setup lang="ts">
/** Sums done on the side; an answer can be put into the survey with one press. */
import { computed } from 'vue'
import { useJob } from '../../job/store'
import SumCard from './SumCard.vue'
import { entered } from '../../ui/locale'

const job = useJob()
const auxiliary = computed(() => job.design?.auxiliary)
const start = computed(() => job.design?.vehicle.start_battery)
function useBonding(value: number): void {
  job.enter('vehicle.chassis.bonding_mohm', entered(Math.round(value * 100) / 100), 'measured')
}
function useDaily(value: number): void {
  job.enter('use.daily_ah', String(Math.round(value * 24)), 'entered')
}
</script>

<template>
  <div class="sums">
    <SumCard
      sum="load_average"
      title="A load's true average"
      :start="{
        capacity_ah: auxiliary?.capacity_ah ?? 100,
        charge_before: 0.9,
        charge_after: 0.6,
        hours: 12,
        charged_ah: 0,
        efficiency: 0.9,
      }"
      use-label="Use as daily use"
      @use="useDaily"
    />
    <SumCard
      sum="rest"
      title="What a rested voltage says"
      :start="{ chemistry: auxiliary?.chemistry ?? 'agm', nominal_v: auxiliary?.nominal_v ?? 12, rest_v: 12.6 }"
    />
    <SumCard
      sum="flat"
      title="Days to a flat start battery"
      :start="{
        chemistry: start?.chemistry ?? 'flooded',
        capacity_ah: start?.capacity_ah ?? 80,
        charge_from: 0.8, // what a design counts on of a battery in daily use
        charge_keep: job.design?.choices?.keep_state_of_charge ?? 0.6,
        drain_ma: job.design?.vehicle.standing_drain_ma ?? 30,
        maintainer_a: 0,
        auxiliary_usable_ah: 0,
      }"
    />
    <SumCard
      sum="bonding"
      title="Bonding from volts"
      :start="{ volts_mv: 40, current_a: 10 }"
      use-label="Use as bonding"
      @use="useBonding"
    />
  </div>
</template>

<style scoped>
.sums {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 8px;
}
@media (max-width: 1180px) {
  .sums {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
@media (max-width: 700px) {
  .sums {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
