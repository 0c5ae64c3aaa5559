<script setup lang="ts">
/** A log: volts at the unit above, amperes into it below, the engine on a rail. */
import { computed } from 'vue'
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'
import { entered } from '../ui/locale'
import type { components } from '../api/schema.gen'

const props = defineProps<{ series: NonNullable<components['schemas']['Drill']['series']> }>()
const WIDTH = 760
const LEFT = 46
const PANES = { volts: [20, 112], amps: [152, 214] } as const
const RAIL = 226
const end = computed(() => props.series.minutes.at(-1) ?? 1)
const x = (minutes: number) => LEFT + (minutes / end.value) * (WIDTH - LEFT - 8)
function pane(values: readonly number[], [top, bottom]: readonly [number, number], fromZero: boolean) {
  const scale = scaleLinear([fromZero ? 0 : Math.min(...values), Math.max(...values, 1)], [bottom, top]).nice(3)
  const path =
    line<number>(
      (_, at) => x(props.series.minutes[at] ?? 0),
      (value) => scale(value),
    )([...values]) ?? ''
  return { path, marks: scale.ticks(3).map((value) => ({ y: scale(value), text: entered(value) })) }
}
const volts = computed(() => pane(props.series.volts, PANES.volts, false))
const amps = computed(() => pane(props.series.amps, PANES.amps, true))
const runs = computed(() => {
  const found: { from: number; to: number }[] = []
  props.series.running.forEach((running, at) => {
    const minute = props.series.minutes[at] ?? 0
    const last = found.at(-1)
    if (running && last && props.series.running[at - 1]) last.to = minute
    else if (running) found.push({ from: minute, to: minute })
  })
  return found
})
const ticks = computed(() => Array.from({ length: Math.floor(end.value / 10) + 1 }, (_, at) => at * 10))
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${WIDTH} 262`" role="img" aria-label="Log: volts at the unit, amperes into it, engine" data-log>
      <text :x="LEFT" y="10" class="name">volts at the unit</text>
      <text :x="LEFT" y="144" class="name">amperes into it</text>
      <g v-for="part in [volts, amps]" :key="part.path">
        <g v-for="mark in part.marks" :key="mark.y">
          <line :x1="LEFT" :x2="WIDTH - 8" :y1="mark.y" :y2="mark.y" class="grid" />
          <text :x="LEFT - 6" :y="mark.y + 4" class="axis">{{ mark.text }}</text>
        </g>
      </g>
      <path :d="volts.path" class="in" />
      <path :d="amps.path" class="amps" />
      <rect
        v-for="run in runs"
        :key="run.from"
        :x="x(run.from)"
        :width="x(run.to) - x(run.from)"
        :y="RAIL"
        height="8"
        class="engine"
      />
      <text :x="LEFT - 6" :y="RAIL + 8" class="axis">engine</text>
      <text v-for="tick in ticks" :key="tick" :x="x(tick)" y="252" class="tick">{{ entered(tick) }}&nbsp;min</text>
    </svg>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  overflow-x: auto;
}
svg {
  width: 100%;
  min-width: 340px;
}
path {
  fill: none;
  stroke-width: 1.8;
}
.in {
  stroke: var(--copper);
}
.amps {
  stroke: var(--teal);
}
.grid {
  stroke: var(--hair);
}
.engine {
  fill: var(--ochre);
}
text {
  font-size: 12px;
  fill: var(--muted);
}
.axis {
  text-anchor: end;
}
.tick {
  text-anchor: middle;
}
.name {
  font-weight: 600;
}
</style>
