<script setup lang="ts">
/** The way back as a mirror hanging below: millivolts lost between the unit's negatives and the batteries'. */
import { computed } from 'vue'
import type { ConditionLine } from '../../api/types'
import { quantity } from '../../ui/format'
import type { Layout } from './geometry'

const props = defineProps<{ line: ConditionLine; layout: Layout; y: number; height: number }>()
const most = computed(() =>
  Math.max(
    60,
    ...props.line.supply.map((item) => item.return_exit_mv),
    ...props.line.delivery.map((item) => item.return_enter_mv),
  ),
)
const depth = (mv: number) => props.y + (mv / most.value) * props.height
function points(pieces: ConditionLine['supply']): string {
  return pieces
    .flatMap((item) => {
      const station = props.layout.byPlace.get(item.place)
      if (station === undefined) return []
      return station.run === null
        ? [`${station.x},${props.y}`]
        : [`${station.x0},${depth(item.return_enter_mv)}`, `${station.x1},${depth(item.return_exit_mv)}`]
    })
    .join(' ')
}
const supply = computed(() => points(props.line.supply.filter((item) => item.place !== 'alternator')))
const delivery = computed(() => points(props.line.delivery))
const unit = computed(() => props.layout.byPlace.get('charger'))
const battery = computed(() => props.layout.byPlace.get('start_battery'))
const auxiliary = computed(() => props.layout.byPlace.get('auxiliary'))
const supplyMv = computed(() => props.line.supply.at(-1)?.return_exit_mv ?? 0)
const deliveryMv = computed(() => props.line.delivery[0]?.return_enter_mv ?? 0)
const hung = (mv: number) => Math.min(depth(mv) + 4, props.y + props.height + 2)
</script>

<template>
  <g v-if="unit && battery && auxiliary">
    <path :d="`M${battery.x} ${y}H${unit.x0}M${unit.x1} ${y}H${auxiliary.x}`" class="zero" />
    <text :x="46" :y="y + 4" class="narrow muted-text">return, mV lost</text>
    <template v-if="line.charging">
      <polyline :points="supply" class="copper-line" />
      <polyline :points="`${delivery} ${auxiliary.x},${y}`" class="teal-line" />
      <text :x="unit.x0 + 7" :y="hung(supplyMv)" class="narrow copper">{{ quantity(supplyMv, 'mV') }}</text>
      <text :x="unit.x1 - 7" :y="hung(deliveryMv)" class="narrow teal end">{{ quantity(deliveryMv, 'mV') }}</text>
    </template>
  </g>
</template>

<style scoped>
.zero {
  stroke: var(--hair);
  fill: none;
}
polyline {
  fill: none;
  stroke-width: 2;
}
.copper-line {
  stroke: var(--copper);
}
.teal-line {
  stroke: var(--teal);
}
text {
  font-size: var(--small);
  font-weight: 600;
}
.muted-text {
  fill: var(--muted);
  font-weight: 400;
}
.copper {
  fill: var(--copper);
}
.teal {
  fill: var(--teal);
}
.end {
  text-anchor: end;
}
</style>
