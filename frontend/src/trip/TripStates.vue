<script setup lang="ts">
/** What the unit does along the time of a trip, as a band of states. */
import { computed } from 'vue'
import type { Trip } from '../api/types'

const props = defineProps<{
  trip: Trip
  from: number
  to: number
  x: (seconds: number) => number
  y: number
  height: number
}>()
const spans = computed(() => {
  const { time_s, state } = props.trip.series
  const found: { state: string; from: number; to: number }[] = []
  state.forEach((now, index) => {
    const end = time_s[index + 1] ?? props.trip.duration_s
    const last = found.at(-1)
    if (last?.state === now) last.to = end
    else found.push({ state: now, from: time_s[index] ?? 0, to: end })
  })
  return found
})
const shown = computed(() =>
  spans.value
    .filter((part) => part.to > props.from && part.from < props.to)
    .map((part) => ({ ...part, from: Math.max(part.from, props.from), to: Math.min(part.to, props.to) })),
)
</script>

<template>
  <g>
    <defs>
      <pattern id="guarded" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M0 0V5" class="hatch" />
      </pattern>
    </defs>
    <g v-for="part in shown" :key="part.from" :class="['band', part.state.replace(' ', '-')]">
      <rect :x="x(part.from)" :y="y" :width="Math.max(0.5, x(part.to) - x(part.from))" :height="height" />
      <text
        v-if="x(part.to) - x(part.from) > part.state.length * 6 + 6"
        :x="(x(part.from) + x(part.to)) / 2"
        :y="y + 12"
      >
        {{ part.state }}
      </text>
    </g>
  </g>
</template>

<style scoped>
text {
  font-size: var(--small);
  fill: var(--muted);
  font-family: var(--narrow);
}
.band rect {
  fill: var(--field);
  stroke: var(--hair);
}
.band text {
  text-anchor: middle;
  fill: var(--ink);
}
.charging rect {
  fill: var(--teal-wash);
}
.waiting rect {
  fill: var(--copper-wash);
}
.guarded rect {
  fill: url(#guarded);
}
.hatch {
  stroke: var(--madder);
  stroke-width: 1.4;
}
</style>
