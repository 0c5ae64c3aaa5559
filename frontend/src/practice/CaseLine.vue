<script setup lang="ts">
/** The level line with only what has been measured inked in. */
import { useMediaQuery } from '@vueuse/core'
import { computed } from 'vue'
import type { CaseState } from './useCase'
import { measured } from '../ui/format'

const props = defineProps<{ line: CaseState['line'] }>()
const narrow = useMediaQuery('(max-width: 700px)')
const WIDTH = computed(() => (narrow.value ? 360 : 560))
const EDGE = 44
const HEIGHT = 128
const TOP = 28
const BOTTOM = 88
const known = computed(() => props.line.map((item) => item.volts).filter((volts) => volts !== null))
const low = computed(() => Math.min(...known.value))
const span = computed(() => Math.max(Math.max(...known.value) - low.value, 0.5))
const points = computed(() =>
  props.line.map((item, at) => ({
    ...item,
    x: EDGE + (at * (WIDTH.value - 2 * EDGE)) / (props.line.length - 1),
    y: item.volts === null ? (TOP + BOTTOM) / 2 : BOTTOM - ((item.volts - low.value) / span.value) * (BOTTOM - TOP),
  })),
)
const pairs = computed(() =>
  points.value.slice(1).flatMap((point, at) => {
    const before = points.value[at]
    return before ? [{ from: before, to: point }] : []
  }),
)
const inked = computed(() => pairs.value.filter(({ from, to }) => from.volts !== null && to.volts !== null))
const blanks = computed(() => pairs.value.filter(({ from, to }) => from.volts === null && to.volts === null))
const words = computed(() =>
  props.line
    .map((item) => `${item.place} ${item.volts === null ? 'not measured' : measured(item.volts, 'V', 2)}`)
    .join(', '),
)
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="`Level line: ${words}`" data-line>
      <line
        v-for="part in blanks"
        :key="part.to.place"
        :x1="part.from.x"
        :y1="part.from.y"
        :x2="part.to.x"
        :y2="part.to.y"
        class="blank"
      />
      <line
        v-for="part in inked"
        :key="part.to.place"
        :x1="part.from.x"
        :y1="part.from.y"
        :x2="part.to.x"
        :y2="part.to.y"
        class="ink"
      />
      <g v-for="(point, at) in points" :key="point.place">
        <circle
          :cx="point.x"
          :cy="point.y"
          r="5"
          :class="[point.volts === null ? 'open' : 'read', at < 3 ? 'in' : 'out']"
        />
        <text v-if="point.volts !== null" :x="point.x" :y="point.y - 9" class="volts">
          {{ measured(point.volts, 'V', 2) }}
        </text>
        <text :x="point.x" :y="HEIGHT - (at % 2 ? 4 : 20)" class="place">{{ point.place }}</text>
      </g>
    </svg>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  width: 100%;
  max-height: 150px;
}
.blank {
  stroke: var(--hair);
  stroke-width: 2;
  stroke-dasharray: 3 5;
}
.ink {
  stroke: var(--ink);
  stroke-width: 2.5;
}
.open {
  fill: var(--panel);
  stroke: var(--edge);
  stroke-width: 1.5;
}
.read.in {
  fill: var(--copper);
}
.read.out {
  fill: var(--teal);
}
.volts {
  font-size: 13px;
  font-weight: 600;
  text-anchor: middle;
  fill: var(--ink);
}
.place {
  font-size: 12px;
  text-anchor: middle;
  fill: var(--muted);
}
</style>
