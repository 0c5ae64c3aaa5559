<script setup lang="ts">
/** A trip on one time axis: volts at the unit with its thresholds, input amperes, charge of both batteries, temperatures, what the unit does; another trip beside it. */
import { fixed } from '../ui/locale'
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref, useId } from 'vue'
import type { Trip } from '../api/types'
import { spread } from '../charts/line/geometry'
import { duration, moment, pathOf, timeTicks, tracksOf, type Mark } from './tracks'
import TripStates from './TripStates.vue'
import { usePointing } from './pointing'
import { useZoom } from './zoom'
import { counted } from '../ui/counted'

const props = withDefaults(defineProps<{ trip: Trip; marks: Mark[]; compact?: boolean; other?: Trip | null }>(), {
  compact: false,
  other: null,
})
const at = defineModel<number | null>('at', { default: null })
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const LEFT = 38
const clip = useId()
const right = computed(() => (props.compact ? 8 : 60)) // room for the thresholds' names
const span = computed(() => Math.max(60, width.value - LEFT - right.value))
const { from, to, zoomed, between, around, whole } = useZoom(() => Math.max(props.trip.duration_s, 1))
const time = computed(() => scaleLinear([from.value, to.value], [LEFT, LEFT + span.value]))
const x = (seconds: number) => time.value(seconds)
const timeAt = (across: number) => time.value.invert(Math.min(Math.max(across, LEFT), LEFT + span.value))
const tracks = computed(() => tracksOf(props.trip, props.marks, props.compact, props.other))
const BAND = 16
const gap = computed(() => (props.compact ? 12 : 17))
const placed = computed(() => {
  let top = 14
  return tracks.value.map((track) => {
    const y0 = top
    top += track.height + gap.value
    const y = scaleLinear([track.low, track.high], [y0 + track.height, y0])
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
const ticks = computed(() => timeTicks(from.value, to.value, span.value < 320 ? 5 : zoomed.value ? 6 : 8))
const { cursor, taken, move, press, release, leave, walk, closer } = usePointing(() => props.trip, at, {
  from,
  to,
  between,
  around,
  whole,
  timeAt,
  x,
})
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
    `${counted(props.trip.totals.starts, 'start')}, ${counted(props.trip.totals.guard_trips, 'guard trip')}, ${fixed(props.trip.totals.charging_min, 0)} min charging in ${duration(props.trip.duration_s)}`,
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
        @pointerleave="compact || leave()"
        @dblclick="whole"
      >
        <defs>
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
          <text :x="LEFT" :y="track.y0 - 5" class="name halo">{{ track.name }}</text>
          <g v-for="value in track.ticks" :key="value">
            <path :d="`M${LEFT} ${track.y(value)}H${LEFT + span}`" class="grid" />
            <text :x="LEFT - 4" :y="track.y(value) + 4" class="tick halo">{{ value }}</text>
          </g>
          <g v-for="(mark, part) in track.marks" :key="mark.label">
            <path
              :d="`M${LEFT} ${track.y(mark.value)}H${LEFT + span}${compact ? '' : `L${LEFT + span + 8} ${track.labels[part]}`}`"
              class="mark"
            />
            <text v-if="!compact" :x="LEFT + span + 11" :y="(track.labels[part] ?? 0) + 4" class="tick first halo">
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
        <TripStates :trip="trip" :from="from" :to="to" :x="x" :y="bandY" :height="BAND" />
        <text
          v-for="(tick, index) in ticks"
          :key="tick"
          :x="x(tick)"
          :y="bandY + BAND + 13"
          class="tick halo"
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
  font-size: var(--small);
  fill: var(--muted);
  font-family: var(--narrow);
}
.name {
  font-size: var(--small);
}
.tick {
  text-anchor: end;
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
</style>
