<script setup lang="ts">
/** A trip on one time axis: volts at the unit with its thresholds, input amperes, charge of both batteries, temperatures, what the unit does; another trip beside it. */
import { useElementSize } from '@vueuse/core'
import { computed, ref, useId } from 'vue'
import type { Trip } from '../api/types'
import { spread } from '../charts/line/geometry'
import { duration, moment, pathOf, timeTicks, tracksOf, type Mark } from './tracks'
import { useZoom } from './zoom'

const props = withDefaults(defineProps<{ trip: Trip; marks: Mark[]; compact?: boolean; other?: Trip | null }>(), {
  compact: false,
  other: null,
})
const at = defineModel<number | null>('at', { default: null })
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const LEFT = 38
const clip = useId()
const right = computed(() => (props.compact ? 8 : 52)) // room for the thresholds' names
const span = computed(() => Math.max(60, width.value - LEFT - right.value))
const { from, to, zoomed, between, around, whole } = useZoom(() => Math.max(props.trip.duration_s, 1))
const x = (seconds: number) => LEFT + ((seconds - from.value) / (to.value - from.value)) * span.value
const timeAt = (across: number) =>
  from.value + (Math.min(Math.max(across - LEFT, 0), span.value) / span.value) * (to.value - from.value)
const tracks = computed(() => tracksOf(props.trip, props.marks, props.compact, props.other))
const BAND = 16
const gap = computed(() => (props.compact ? 12 : 17))
const placed = computed(() => {
  let top = 14
  return tracks.value.map((track) => {
    const y0 = top
    top += track.height + gap.value
    const y = (value: number) => y0 + track.height - ((value - track.low) / (track.high - track.low)) * track.height
    const labels = spread(
      track.marks.map((mark) => y(mark.value)),
      12,
      y0 + 4,
      y0 + track.height,
    )
    return {
      ...track,
      y0,
      y,
      labels,
      paths: track.lines.map((line) => ({ ...line, path: pathOf(line.times, line.values, x, y, line.smooth) })),
    }
  })
})
const bandY = computed(() => placed.value.reduce((sum, track) => Math.max(sum, track.y0 + track.height + 6), 14))
const height = computed(() => bandY.value + BAND + 18)
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
    .filter((part) => part.to > from.value && part.from < to.value)
    .map((part) => ({ ...part, from: Math.max(part.from, from.value), to: Math.min(part.to, to.value) })),
)
const ticks = computed(() => timeTicks(from.value, to.value, span.value < 320 ? 5 : zoomed.value ? 6 : 8))
const cursor = computed(() => (at.value === null ? null : (props.trip.series.time_s[at.value] ?? null)))
const held = ref<number | null>(null) // where a drag to zoom began
const taken = computed(() =>
  held.value === null || cursor.value === null
    ? null
    : ([Math.min(held.value, cursor.value), Math.max(held.value, cursor.value)] as const),
)
function move(event: PointerEvent): void {
  const seconds = timeAt(event.offsetX)
  const times = props.trip.series.time_s
  let low = 0
  let high = times.length - 1
  while (low < high) {
    const middle = Math.ceil((low + high) / 2)
    if ((times[middle] ?? 0) <= seconds) low = middle
    else high = middle - 1
  }
  at.value = low
}
function press(event: PointerEvent): void {
  if (event.pointerType === 'mouse') held.value = timeAt(event.offsetX)
}
function release(event: PointerEvent): void {
  if (held.value !== null && Math.abs(x(held.value) - event.offsetX) > 8) between(held.value, timeAt(event.offsetX))
  held.value = null
}
const closer = (factor: number) => around(cursor.value ?? (from.value + to.value) / 2, factor)
function walk(event: KeyboardEvent): void {
  const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
  const zoom = { '+': 0.5, '-': 2, 0: Infinity }[event.key]
  if (by === undefined && zoom === undefined) return
  event.preventDefault()
  event.stopPropagation()
  if (zoom !== undefined) {
    if (zoom === Infinity) whole()
    else closer(zoom)
  }
  if (by === undefined) return
  at.value = Math.min(
    props.trip.series.time_s.length - 1,
    Math.max(0, (at.value ?? 0) + by * (event.shiftKey ? 10 : 1)),
  )
  const seconds = props.trip.series.time_s[at.value] ?? 0
  if (seconds < from.value || seconds > to.value)
    between(seconds - (to.value - from.value) / 2, seconds + (to.value - from.value) / 2)
}
// Walked by keys it is a slider along the time.
const slider = computed(() => ({
  role: 'slider',
  tabindex: 0,
  'aria-valuemin': 0,
  'aria-valuemax': Math.round(props.trip.duration_s),
  'aria-valuenow': Math.round(cursor.value ?? 0),
  'aria-valuetext':
    cursor.value === null
      ? 'no moment chosen'
      : `${moment(cursor.value)}, ${props.trip.series.state[at.value ?? 0] ?? ''}`,
}))
const words = computed(
  () =>
    `${props.trip.totals.starts} starts, ${props.trip.totals.guard_trips} guard trips, ${props.trip.totals.charging_min.toFixed(0)} minutes charging in ${duration(props.trip.duration_s)}`,
)
</script>

<template>
  <div class="box">
    <div v-if="!compact" class="zoom">
      <button
        type="button"
        class="plain"
        aria-label="Closer"
        title="Closer (+), or drag across the picture"
        @click="closer(0.5)"
      >
        +</button
      ><button type="button" class="plain" aria-label="Wider" title="Wider (-)" :disabled="!zoomed" @click="closer(2)">
        −</button
      ><button v-if="zoomed" type="button" class="link" title="The whole trip (0)" @click="whole">whole</button>
    </div>
    <div
      ref="box"
      class="chart"
      :aria-label="words"
      v-bind="compact ? { role: 'img' } : slider"
      @keydown="compact || walk($event)"
    >
      <svg
        v-if="width > 0"
        :width="width"
        :height="height"
        @pointermove="compact || move($event)"
        @pointerdown="compact || press($event)"
        @pointerup="release"
        @pointerleave="compact || ((at = null), (held = null))"
        @dblclick="whole"
      >
        <defs>
          <pattern id="guarded" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0V5" class="hatch" />
          </pattern>
          <clipPath :id="clip"><rect :x="LEFT" y="0" :width="span" :height="height" /></clipPath>
        </defs>
        <rect
          v-if="taken"
          :x="x(taken[0])"
          y="8"
          :width="x(taken[1]) - x(taken[0])"
          :height="bandY + BAND - 8"
          class="taken"
        />
        <g v-for="track in placed" :key="track.name">
          <text :x="LEFT" :y="track.y0 - 5" class="name">{{ track.name }}</text>
          <g v-for="value in track.ticks" :key="value">
            <path :d="`M${LEFT} ${track.y(value)}H${LEFT + span}`" class="grid" />
            <text :x="LEFT - 4" :y="track.y(value) + 4" class="tick">{{ value }}</text>
          </g>
          <g v-for="(mark, part) in track.marks" :key="mark.label">
            <path
              :d="`M${LEFT} ${track.y(mark.value)}H${LEFT + span}${compact ? '' : `L${LEFT + span + 8} ${track.labels[part]}`}`"
              class="mark"
            />
            <text v-if="!compact" :x="LEFT + span + 11" :y="(track.labels[part] ?? 0) + 4" class="tick first">
              {{ mark.label }}
            </text>
          </g>
          <g :clip-path="`url(#${clip})`">
            <path
              v-for="line in track.paths"
              :key="line.name"
              :d="line.path"
              :class="['line', line.tone, { other: line.other }]"
            />
          </g>
        </g>
        <g v-for="part in shown" :key="part.from" :class="['band', part.state.replace(' ', '-')]">
          <rect :x="x(part.from)" :y="bandY" :width="Math.max(0.5, x(part.to) - x(part.from))" :height="BAND" />
          <text
            v-if="x(part.to) - x(part.from) > part.state.length * 6 + 6"
            :x="(x(part.from) + x(part.to)) / 2"
            :y="bandY + 12"
          >
            {{ part.state }}
          </text>
        </g>
        <text
          v-for="(tick, index) in ticks"
          :key="tick"
          :x="x(tick)"
          :y="bandY + BAND + 13"
          class="tick"
          :class="index === 0 && tick === from ? 'first' : compact && x(tick) > width - 24 ? '' : 'mid'"
        >
          {{ moment(tick) }}
        </text>
        <path
          v-if="cursor !== null && cursor >= from && cursor <= to"
          :d="`M${x(cursor)} 8V${bandY + BAND}`"
          class="cursor"
        />
      </svg>
    </div>
  </div>
</template>

<style scoped>
.box {
  width: 100%;
  position: relative;
}
svg {
  display: block;
  user-select: none;
}
.zoom {
  position: absolute;
  right: 0;
  top: -4px;
  display: flex;
  gap: 4px;
  font-size: var(--text);
}
.zoom .plain {
  width: 24px;
  height: 24px;
  padding: 0;
  text-align: center;
  border: 1px solid var(--hair);
  border-radius: 3px;
  line-height: 1;
}
.zoom .plain:disabled {
  opacity: 0.45;
}
.taken {
  fill: var(--copper-wash);
}
.mark {
  stroke: var(--ink);
  stroke-dasharray: 4 3;
  stroke-width: 1;
  fill: none;
}
.cursor {
  stroke: var(--ink);
  stroke-width: 1;
  fill: none;
}
text {
  font-size: var(--tiny);
  fill: var(--muted);
  font-family: var(--narrow);
}
.name {
  font-size: var(--small);
}
.tick {
  text-anchor: end;
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
}
.first {
  text-anchor: start;
}
.line {
  fill: none;
  stroke-width: 1.8;
} /* the other design */
.other {
  stroke-width: 1.2;
  stroke-dasharray: 5 3;
  opacity: 0.75;
}
.copper {
  stroke: var(--copper);
}
.teal {
  stroke: var(--teal);
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
