<script setup lang="ts">
/** Where the probes of the test in hand go: red and black on the path or on the way back, or a clamp round it. */
import { computed } from 'vue'
import type { Probes } from '../../api/types'
import type { Layout } from './geometry'

const props = defineProps<{ probes: Probes; layout: Layout; y: number; returnY: number }>()

interface Spot {
  key: 'red' | 'black' | 'clamp'
  x: number
  y: number
  label: string
  back: boolean
}
function spot(place: string, key: Spot['key']): Spot[] {
  const back = place.endsWith('-')
  const name = place.replace(/-$/, '').replace(/\.out$/, '')
  const station = props.layout.byPlace.get(name)
  if (station === undefined) return []
  const out = place.includes('.out')
  const ends = name === 'charger' || station.run !== null
  const left = name === 'charger' ? !out : key !== 'black'
  const x = ends ? (left ? station.x0 + 2 : station.x1 - 2) : station.x
  return [{ key, x, y: back ? props.returnY - 2 : props.y - 20, label: key, back }]
}
const spots = computed(() => [
  ...spot(props.probes.red, props.probes.clamp ? 'clamp' : 'red'),
  ...spot(props.probes.black, 'black'),
])
</script>

<template>
  <g v-for="item in spots" :key="item.key" :class="item.key" :data-probe="item.key">
    <title>{{ item.label === 'clamp' ? 'clamp here' : `${item.label} probe here` }}</title>
    <path v-if="item.key !== 'clamp'" :d="`M${item.x} ${item.y}l-5 -11h10z`" class="tip" />
    <circle v-else :cx="item.x" :cy="item.y + 20" r="11" class="ring" />
    <text
      :x="item.back ? item.x + 9 : item.x"
      :y="item.back ? item.y - 1 : item.y - 14"
      class="narrow"
      :class="{ beside: item.back }"
    >
      {{ item.label }}
    </text>
  </g>
</template>

<style scoped>
text {
  font-size: var(--small);
  font-weight: 600;
  text-anchor: middle;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
}
.beside {
  text-anchor: start;
}
.red .tip {
  fill: var(--madder);
}
.red text {
  fill: var(--madder);
}
.black .tip,
.black text {
  fill: var(--ink);
}
.ring {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.5;
  stroke-dasharray: 50 19;
}
.clamp text {
  fill: var(--ink);
}
</style>
