<script setup lang="ts">
/** A job's face: its volts at hot idle from the start battery to the auxiliary battery, small. */
import { computed } from 'vue'
import { fixed } from '../ui/locale'

const props = defineProps<{ volts: number[]; stops: number }>()
const WIDTH = 96
const HEIGHT = 28
const NAMES = ['start battery', 'input', 'output', 'auxiliary']
const points = computed(() => {
  const low = Math.min(...props.volts)
  const high = Math.max(...props.volts)
  const room = Math.max(high - low, 0.04 * high)
  return props.volts.map((volts, at) => ({
    x: 5 + (at * (WIDTH - 10)) / Math.max(1, props.volts.length - 1),
    y: HEIGHT - 5 - ((volts - low) / room) * (HEIGHT - 10),
  }))
})
const path = (from: number, to: number) =>
  points.value
    .slice(from, to)
    .map((point, at) => `${at ? 'L' : 'M'}${point.x.toFixed(1)} ${point.y.toFixed(1)}`)
    .join('')
const words = computed(
  () => `At hot idle: ${props.volts.map((volts, at) => `${NAMES[at]} ${fixed(volts, 2)} V`).join(', ')}`,
)
</script>

<template>
  <svg v-if="points.length === 4" :width="WIDTH" :height="HEIGHT" role="img" :aria-label="words" data-face>
    <title>{{ words }}</title>
    <path :d="path(0, 2)" class="in" />
    <path :d="path(1, 3)" class="unit" />
    <path :d="path(2, 4)" class="out" />
    <circle
      v-for="(point, at) in points"
      :key="at"
      :cx="point.x"
      :cy="point.y"
      r="2.6"
      :class="at < 2 ? 'in' : 'out'"
    />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}
path {
  fill: none;
  stroke-width: 2;
}
path.in {
  stroke: var(--copper);
}
path.out {
  stroke: var(--teal);
}
path.unit {
  stroke: var(--edge);
  stroke-dasharray: 2 2;
}
circle.in {
  fill: var(--copper);
}
circle.out {
  fill: var(--teal);
}
</style>
