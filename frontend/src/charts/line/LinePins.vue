<script setup lang="ts">
/** Findings pinned where they belong on the line. */
import { computed } from 'vue'
import type { ConditionLine, Design, Finding } from '../../api/types'
import { shownAt } from '../../job/pieces'
import type { Layout, VoltScale } from './geometry'

const props = defineProps<{
  design: Design
  findings: Finding[]
  layout: Layout
  scale: VoltScale
  line: ConditionLine
  systemV: number
  auxiliaryV: number
  top: number
  bottom: number
}>()
const emit = defineEmits<{ pick: [place: string] }>()
const VOLTS_WIDE = 60

function anchor(place: string): { x: number; y: number } {
  const base = shownAt(props.design, place)
  const station = props.layout.byPlace.get(base) ?? props.layout.byPlace.get('charger')
  if (station?.kind === 'charger') return { x: station.x1 - 15, y: props.top + 8 }
  const onSupply = props.line.supply.find((item) => item.place === base)
  const onDelivery = props.line.delivery.find((item) => item.place === base)
  const y = onSupply
    ? props.scale.y((onSupply.enter_v + onSupply.exit_v) / 2, props.systemV)
    : onDelivery
      ? props.scale.y((onDelivery.enter_v + onDelivery.exit_v) / 2, props.auxiliaryV)
      : props.scale.y(props.line.auxiliary_v ?? 0, props.auxiliaryV)
  const at = { x: station?.x ?? 0, y: Math.min(Math.max(y + 22, props.top + 6), props.bottom - 8) }
  const unit = props.layout.byPlace.get('charger')
  const label = props.scale.y(props.line.input_v ?? 0, props.systemV) + 10 // the volts written beside the unit's input
  if (onSupply && unit && at.x + VOLTS_WIDE + 10 > unit.x0 && Math.abs(at.y - label) < 20)
    at.x = unit.x0 - VOLTS_WIDE - 10
  return at
}
const pins = computed(() => {
  const byPlace = new Map<string, Finding[]>()
  for (const finding of props.findings)
    if (finding.level !== 'note') byPlace.set(finding.place, [...(byPlace.get(finding.place) ?? []), finding])
  return [...byPlace.entries()].map(([place, items]) => ({
    place,
    count: items.length,
    level: items.some((item) => item.level === 'stop') ? 'stop' : 'caution',
    titles: items.map((item) => item.title).join('; '),
    ...anchor(place),
  }))
})
</script>

<template>
  <!-- What a pin does its finding's title does too, beside the line. -->
  <g
    v-for="pin in pins"
    :key="pin.place"
    class="pin"
    :class="pin.level"
    :transform="`translate(${pin.x} ${pin.y})`"
    data-also
    @click="emit('pick', pin.place)"
  >
    <title>{{ pin.titles }}</title>
    <path :d="pin.level === 'stop' ? 'M-4 -9.5H4L9.5 -4V4L4 9.5H-4L-9.5 4V-4Z' : 'M0 -10L10 8H-10Z'" />
    <text :y="pin.level === 'stop' ? 4 : 5.5">{{ pin.count }}</text>
  </g>
</template>

<style scoped>
.pin {
  cursor: pointer;
}
.stop path {
  fill: var(--madder);
}
.caution path {
  fill: var(--ochre);
}
path {
  stroke: var(--panel);
  stroke-width: 1.5;
}
text {
  font-size: var(--small);
  font-weight: 600;
  text-anchor: middle;
  fill: var(--panel);
}
</style>
