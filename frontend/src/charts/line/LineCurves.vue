<script setup lang="ts">
/** The lines of every operating condition, the chosen one strong, its volts at the stations. */
import { computed } from 'vue'
import type { ConditionLine, Design } from '../../api/types'
import { quantity } from '../../ui/format'
import { curve } from './curves'
import { spread, type Layout, type VoltScale } from './geometry'

const props = defineProps<{
  lines: ConditionLine[]
  chosen: string
  layout: Layout
  scale: VoltScale
  design: Design
  top: number
  bottom: number
}>()
const systemV = computed(() => props.design.vehicle.system_v ?? 12)
const auxiliaryV = computed(() => props.design.auxiliary?.nominal_v ?? 12)
const drawn = computed(() =>
  props.lines
    .map((line) => ({
      line,
      key: 'moment' in line ? 'moment' : line.key,
      moment: 'moment' in line,
      strong: ('moment' in line ? 'moment' : line.key) === props.chosen,
      curve: curve(line, props.layout, props.scale, systemV.value, auxiliaryV.value, props.bottom),
    }))
    .sort((a, b) => Number(a.strong) - Number(b.strong)),
)
const strong = computed(() => drawn.value.find((item) => item.strong))
const names = computed(() => {
  const wanted = drawn.value.map((item) => props.scale.y(item.line.source_v, systemV.value) - 5)
  const placed = spread(wanted, 13, props.top + 6, props.bottom)
  return drawn.value.map((item, at) => ({
    key: item.key,
    label: item.moment && item.line.label !== 'measured' ? 'now' : item.line.label,
    strong: item.strong,
    y: placed[at] ?? 0,
  }))
})
const unit = computed(() => props.layout.byPlace.get('charger'))
const battery = computed(() => props.layout.byPlace.get('start_battery'))
const auxiliary = computed(() => props.layout.byPlace.get('auxiliary'))
const postV = computed(() => strong.value?.line.supply.find((item) => item.place === 'start_battery')?.exit_v ?? null)
const returnMv = computed(() => strong.value?.line.supply.at(-1)?.return_exit_mv ?? 0)
const outReturnMv = computed(() => strong.value?.line.delivery[0]?.return_enter_mv ?? 0)
const inputY = computed(() => {
  const volts = strong.value?.line.input_v
  return volts === null || volts === undefined ? null : props.scale.y(volts, systemV.value)
})
const outputY = computed(() => {
  const volts = strong.value?.line.output_v
  return volts === null || volts === undefined ? null : props.scale.y(volts, auxiliaryV.value)
})
const auxiliaryY = computed(() => {
  const volts = strong.value?.line.auxiliary_v
  return volts === null || volts === undefined ? null : props.scale.y(volts, auxiliaryV.value)
})
</script>

<template>
  <g>
    <text
      v-for="name in names"
      :key="name.key"
      :x="46"
      :y="name.y"
      class="narrow"
      :class="name.strong ? 'copper bold' : 'faint-text'"
      >{{ name.label }}</text
    >
    <g
      v-for="item in drawn"
      :key="item.key"
      :class="{ strong: item.strong, moment: item.moment, parked: item.line.key === 'parked' && !item.moment }"
    >
      <path :d="item.curve.supply" class="supply" />
      <path :d="item.curve.delivery" class="delivery" />
      <path v-if="item.curve.fall" :d="item.curve.fall" class="fall" marker-end="url(#fall-arrow)" />
    </g>
    <template v-if="strong && unit">
      <g v-if="battery && postV !== null">
        <circle :cx="battery.x" :cy="scale.y(postV, systemV)" r="4" class="ring copper-stroke" />
        <text :x="battery.x" :y="scale.y(postV, systemV) - 9" class="value copper middle">{{
          quantity(postV, 'V')
        }}</text>
      </g>
      <g v-if="inputY !== null && strong.curve.end">
        <path :d="`M${unit.x0} ${strong.curve.end.y}V${inputY}`" class="return-step" />
        <text
          v-if="returnMv > 250 && inputY + 28 < bottom"
          :x="unit.x0 - 9"
          :y="inputY + 28"
          class="narrow small end faint-text"
          >return takes {{ quantity(returnMv, 'mV') }}</text
        >
        <circle :cx="unit.x0" :cy="inputY" r="4.5" class="ring copper-stroke" />
        <text :x="unit.x0 - 9" :y="inputY + 15" class="value copper end">{{ quantity(strong.line.input_v, 'V') }}</text>
      </g>
      <g v-if="strong.line.collapsed">
        <text :x="unit.x0 - 30" :y="bottom - 26" class="value madder end">collapses</text>
        <text :x="unit.x0 - 30" :y="bottom - 12" class="narrow small madder end">no stable voltage at this power</text>
      </g>
      <g v-if="outputY !== null && strong.curve.start">
        <path :d="`M${unit.x1} ${strong.curve.start.y}V${outputY}`" class="return-step teal-step" />
        <circle :cx="unit.x1" :cy="outputY" r="4.5" class="ring teal-stroke" />
        <text :x="unit.x1 + 9" :y="outputY - 9" class="value teal">{{ quantity(strong.line.output_v, 'V') }}</text>
        <title v-if="outReturnMv > 0">{{ quantity(outReturnMv, 'mV') }} of it is lost in the delivery return</title>
      </g>
      <g v-if="auxiliaryY !== null && auxiliary">
        <circle :cx="auxiliary.x" :cy="auxiliaryY" r="4" class="ring teal-stroke" />
        <text :x="auxiliary.x" :y="auxiliaryY - 9" class="value teal middle">{{
          quantity(strong.line.auxiliary_v, 'V')
        }}</text>
      </g>
    </template>
  </g>
</template>

<style scoped>
path {
  fill: none;
}
.supply {
  stroke: var(--copper);
  stroke-width: 1.2;
  opacity: 0.42;
}
.delivery {
  stroke: var(--teal);
  stroke-width: 1.2;
  opacity: 0.35;
  stroke-dasharray: 2 3;
}
.parked .supply {
  stroke-dasharray: 2 3;
}
.strong .supply {
  stroke-width: 2.6;
  opacity: 1;
  stroke-dasharray: none;
}
.strong .delivery {
  stroke-width: 2.6;
  opacity: 1;
  stroke-dasharray: none;
}
.strong.parked .supply,
.strong.parked .delivery {
  stroke-dasharray: 5 3;
  stroke-width: 2;
}
.fall {
  stroke: var(--madder);
  stroke-width: 1.2;
  stroke-dasharray: 7 4;
  opacity: 0.4;
}
.strong .fall {
  stroke-width: 2.6;
  opacity: 1;
}
.return-step {
  stroke: var(--copper);
  stroke-width: 1.4;
  stroke-dasharray: 2 2;
}
.teal-step {
  stroke: var(--teal);
}
.ring {
  fill: var(--panel);
  stroke-width: 1.8;
}
.copper-stroke {
  stroke: var(--copper);
}
.teal-stroke {
  stroke: var(--teal);
}
text {
  font-size: var(--small);
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
  stroke-linejoin: round;
}
.small {
  font-size: var(--small);
}
.value {
  font-size: var(--lead);
  font-weight: 600;
}
.copper {
  fill: var(--copper);
}
.teal {
  fill: var(--teal);
}
.madder {
  fill: var(--madder);
}
.bold {
  font-weight: 600;
}
.faint-text {
  fill: var(--muted);
}
.middle {
  text-anchor: middle;
}
.end {
  text-anchor: end;
}
@media (prefers-reduced-motion: no-preference) {
  .moment path {
    transition: d 0.15s linear;
  }
}
</style>
