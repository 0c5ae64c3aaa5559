<script setup lang="ts">
/** A trip on one time axis: volts at the unit with its thresholds, input amperes, charge of both batteries, temperatures, what the unit does; another trip beside it. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Trip } from '../api/types'
import { spread } from '../line/geometry'
import { duration, pathOf, tracksOf, type Mark } from './tracks'

const props = withDefaults(defineProps<{ trip: Trip; marks: Mark[]; compact?: boolean; other?: Trip | null }>(), { compact: false, other: null })
const at = defineModel<number | null>('at', { default: null })
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const LEFT = 38
const RIGHT = 8
const span = computed(() => Math.max(60, width.value - LEFT - RIGHT))
const x = (seconds: number) => LEFT + (seconds / Math.max(props.trip.duration_s, 1)) * span.value
const tracks = computed(() => tracksOf(props.trip, props.marks, props.compact, props.other))
const BAND = 16
const gap = computed(() => (props.compact ? 12 : 17))
const height = computed(() => tracks.value.reduce((sum, track) => sum + track.height + gap.value, 0) + BAND + (props.compact ? 20 : 28))
const placed = computed(() => {
  let top = 14
  return tracks.value.map((track) => {
    const y0 = top
    top += track.height + gap.value
    const y = (value: number) => y0 + track.height - ((value - track.low) / (track.high - track.low)) * track.height
    const labels = spread(track.marks.map((mark) => y(mark.value) - 3), 12, y0 + 4, y0 + track.height)
    return { ...track, y0, y, labels, paths: track.lines.map((line) => ({ ...line, path: pathOf(line.times, line.values, x, y, line.smooth) })) }
  })
})
const bandY = computed(() => placed.value.reduce((sum, track) => Math.max(sum, track.y0 + track.height + 6), 14))
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
const ticks = computed(() => Array.from({ length: 6 }, (_, part) => (props.trip.duration_s * part) / 5))
const cursor = computed(() => (at.value === null ? null : (props.trip.series.time_s[at.value] ?? null)))
function move(event: PointerEvent): void {
  const seconds = ((event.offsetX - LEFT) / span.value) * props.trip.duration_s
  const times = props.trip.series.time_s
  let low = 0
  let high = times.length - 1
  while (low < high) { const middle = Math.ceil((low + high) / 2); if ((times[middle] ?? 0) <= seconds) low = middle; else high = middle - 1 }
  at.value = low
}
function walk(event: KeyboardEvent): void {
  const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (by === 0) return
  event.preventDefault()
  event.stopPropagation()
  at.value = Math.min(props.trip.series.time_s.length - 1, Math.max(0, (at.value ?? 0) + by * (event.shiftKey ? 10 : 1)))
}
const words = computed(() => `${props.trip.totals.starts} starts, ${props.trip.totals.lockouts} lockouts, ${props.trip.totals.charging_min.toFixed(0)} minutes charging in ${duration(props.trip.duration_s)}`)
</script>

<template>
  <div ref="box" class="chart" :tabindex="compact ? -1 : 0" role="img" :aria-label="words" @keydown="walk">
    <svg v-if="width > 0" :width="width" :height="height" @pointermove="compact || move($event)" @pointerleave="compact || (at = null)">
      <defs><pattern id="locked" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><path d="M0 0V5" class="hatch" /></pattern></defs>
      <g v-for="track in placed" :key="track.name">
        <text :x="LEFT" :y="track.y0 - 5" class="name">{{ track.name }}</text>
        <g v-for="value in track.ticks" :key="value"><path :d="`M${LEFT} ${track.y(value)}H${width - RIGHT}`" class="grid" /><text :x="LEFT - 4" :y="track.y(value) + 4" class="tick">{{ value }}</text></g>
        <g v-for="(mark, part) in track.marks" :key="mark.label"><path :d="`M${LEFT} ${track.y(mark.value)}H${width - RIGHT}`" class="mark" /><text v-if="!compact" :x="width - RIGHT" :y="track.labels[part]" class="tick">{{ mark.label }}</text></g>
        <path v-for="line in track.paths" :key="line.name" :d="line.path" :class="['line', line.tone, { other: line.other }]" />
      </g>
      <g v-for="part in spans" :key="part.from" :class="['band', part.state.replace(' ', '-')]">
        <rect :x="x(part.from)" :y="bandY" :width="Math.max(0.5, x(part.to) - x(part.from))" :height="BAND" />
        <text v-if="x(part.to) - x(part.from) > part.state.length * 6 + 6" :x="(x(part.from) + x(part.to)) / 2" :y="bandY + 12">{{ part.state }}</text>
      </g>
      <text v-for="(tick, index) in ticks" :key="tick" :x="x(tick)" :y="bandY + BAND + 13" class="tick" :class="index === 0 ? 'first' : index === 5 ? '' : 'mid'">{{ duration(tick) }}</text>
      <path v-if="cursor !== null" :d="`M${x(cursor)} 8V${bandY + BAND}`" class="cursor" />
    </svg>
  </div>
</template>

<style scoped>
.chart { width: 100%; } svg { display: block; }
.grid { stroke: var(--hair); fill: none; } .mark { stroke: var(--ink); stroke-dasharray: 4 3; stroke-width: 1; fill: none; } .cursor { stroke: var(--ink); stroke-width: 1; fill: none; }
text { font-size: 11.5px; fill: var(--muted); font-family: 'Barlow Semi Condensed'; } .name { font-size: 12px; } .tick { text-anchor: end; paint-order: stroke; stroke: var(--panel); stroke-width: 3px; } .mid { text-anchor: middle; } .first { text-anchor: start; }
.line { fill: none; stroke-width: 1.8; } /* the other design */ .other { stroke-width: 1.2; stroke-dasharray: 5 3; opacity: 0.75; } .copper { stroke: var(--copper); } .teal { stroke: var(--teal); }
.band rect { fill: var(--field); stroke: var(--hair); } .band text { text-anchor: middle; fill: var(--ink); } .charging rect { fill: var(--teal-wash); } .waiting rect { fill: var(--copper-wash); } .locked-out rect { fill: url(#locked); } .hatch { stroke: var(--madder); stroke-width: 1.4; }
</style>
