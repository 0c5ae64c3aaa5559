<script setup lang="ts">
/** Start, stop and guard as marks at the unit's input, on the same volts. */
import { fixed } from '../../ui/locale'
import { computed } from 'vue'
import type { WakeBands } from '../../api/types'
import { spread, type Layout, type VoltScale } from './geometry'

const props = defineProps<{
  wake: WakeBands
  layout: Layout
  scale: VoltScale
  systemV: number
  top: number
  bottom: number
}>()
const GLYPH = {
  start: 'M-4.5 4L0 -4.5L4.5 4Z',
  stop: 'M-4.5 -4L0 4.5L4.5 -4Z',
  guard: 'M-4.5 -3.5H4.5V3.5H-4.5Z',
  back: 'M0 -4.5L4.5 0L0 4.5L-4.5 0Z',
}
const unit = computed(() => props.layout.byPlace.get('charger'))
const marks = computed(() => {
  const shown = props.wake.marks.filter((item) => item.acts && item.kind !== 'back')
  const at = shown.map((item) => props.scale.y(item.value_v, props.systemV))
  const labels = spread(at, 14, props.top, props.bottom)
  return shown.map((item, index) => ({
    ...item,
    y: at[index] ?? 0,
    labelY: labels[index] ?? 0,
    glyph: GLYPH[item.kind],
  }))
})
</script>

<template>
  <g v-if="unit">
    <g v-for="mark in marks" :key="mark.path" :class="mark.verdict">
      <path :d="`M${unit.x0 - 6} ${mark.y}H${unit.x0 + 6}L${unit.x0 + 12} ${mark.labelY}`" class="tick" />
      <path :d="mark.glyph" :transform="`translate(${unit.x0 + 19} ${mark.labelY})`" class="glyph" />
      <text :x="unit.x0 + 27" :y="mark.labelY + 4" class="narrow"
        ><tspan class="word">{{ mark.label.toLowerCase() }}</tspan> {{ fixed(mark.value_v, 2) }}</text
      >
    </g>
  </g>
</template>

<style scoped>
.tick {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.3;
}
.glyph {
  fill: var(--ink);
}
text {
  font-size: var(--small);
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
}
.word {
  fill: var(--muted);
}
.wrong .tick {
  stroke: var(--madder);
}
.wrong .glyph,
.wrong text {
  fill: var(--madder);
}
.tight .tick {
  stroke: var(--ochre);
}
.tight .glyph,
.tight text {
  fill: var(--ochre);
}
</style>
