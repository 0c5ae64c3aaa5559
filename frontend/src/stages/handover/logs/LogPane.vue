<script setup lang="ts">
/** One measure of a log over time: between its lowest and highest, with what the simulator says. Drag to look closer. */
import { area, line } from 'd3-shape'
import { computed, ref } from 'vue'
import type { LogWindow } from '../../../api/types'
import { fixed } from '../../../ui/locale'
import { linear } from '../../settings/curves'
import { moment } from './when'

const props = defineProps<{
  window: LogWindow
  name: string
  names: string[]
  width: number
  height: number
  left: number
  right: number
}>()
const emit = defineEmits<{ pick: [string]; range: [number, number] }>()
const TOP = 8
const FOOT = 20
const curve = computed(() => props.window.logged.find((item) => item.measure === props.name))
const model = computed(() => props.window.simulated.find((item) => item.measure === props.name))
const label = (name: string) => props.window.logged.find((item) => item.measure === name)?.label ?? name
const seen = computed(() => {
  const real = [...(curve.value?.low ?? []), ...(curve.value?.high ?? [])].filter((value) => value !== null)
  const least = Math.min(...real)
  const most = Math.max(...real)
  // The simulator's own corners do not stretch the picture past what was logged by more than a third.
  const room = Math.max((most - least) * 0.33, curve.value?.unit === 'A' ? 1 : 0.3)
  const also = (model.value?.value ?? []).map((value) => Math.min(Math.max(value, least - room), most + room))
  return [Math.min(least, ...also), Math.max(most, ...also)] as const
})
const x = computed(() => linear([props.window.from_s, props.window.to_s], [props.left, props.width - props.right]))
const y = computed(() => {
  const room = Math.max(seen.value[1] - seen.value[0], 0.2) * 0.06
  return linear([seen.value[0] - room, seen.value[1] + room], [props.height - FOOT, TOP])
})
const levels = computed(() => linear([seen.value[0], seen.value[1]], [0, 1]).ticks(4))
const band = computed(() => {
  const low = curve.value?.low ?? []
  const high = curve.value?.high ?? []
  return (
    area<number>()
      .defined((_, at) => low[at] !== null && low[at] !== undefined)
      .x((seconds) => x.value(seconds))
      .y0((_, at) => y.value(low[at] ?? 0) + 0.8)
      .y1((_, at) => y.value(high[at] ?? 0) - 0.8)
      .digits(1)([...props.window.time_s]) ?? ''
  )
})
const path = computed(
  () =>
    line<number>()
      .x((seconds) => x.value(seconds))
      .y((_, at) => y.value(model.value?.value[at] ?? 0))
      .digits(1)([...(model.value?.time_s ?? [])]) ?? '',
)
const stops = computed(() => {
  const count = Math.max(2, Math.min(6, Math.floor(props.width / 190)))
  return Array.from(
    { length: count },
    (_, at) => props.window.from_s + ((props.window.to_s - props.window.from_s) * at) / count,
  )
})
const svg = ref<SVGSVGElement | null>(null)
const drag = ref<{ begin: number; end: number } | null>(null)
const place = (event: PointerEvent) =>
  Math.min(
    Math.max(event.clientX - (svg.value?.getBoundingClientRect().left ?? 0), props.left),
    props.width - props.right,
  )
function down(event: PointerEvent): void {
  const at = place(event)
  drag.value = { begin: at, end: at }
}
function move(event: PointerEvent): void {
  if (drag.value) drag.value = { ...drag.value, end: place(event) }
}
function up(): void {
  const found = drag.value
  drag.value = null
  if (!found || Math.abs(found.end - found.begin) < 8) return
  const ends = [x.value.invert(found.begin), x.value.invert(found.end)].sort((one, other) => one - other)
  emit('range', ends[0] ?? 0, ends[1] ?? 0)
}
</script>

<template>
  <div class="picks" role="group" :aria-label="`Shown: ${label(name)}`">
    <button
      v-for="one in names"
      :key="one"
      type="button"
      class="link"
      :aria-pressed="one === name"
      @click="emit('pick', one)"
    >
      {{ label(one) }}, {{ curve?.unit }}
    </button>
  </div>
  <svg
    ref="svg"
    class="chart"
    :width="width"
    :height="height"
    role="img"
    :aria-label="`${label(name)}, logged and simulated`"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="up"
    @pointerleave="drag = null"
  >
    <g v-for="level in levels" :key="level">
      <path :d="`M${left} ${y(level)}H${width - right}`" class="grid" />
      <text :x="left - 6" :y="y(level) + 4" class="end">{{ fixed(level, curve?.unit === 'V' ? 1 : 0) }}</text>
    </g>
    <path :d="band" class="band" />
    <path v-if="path" :d="path" class="model" />
    <rect
      v-if="drag"
      class="drag"
      :x="Math.min(drag.begin, drag.end)"
      :y="TOP"
      :width="Math.abs(drag.end - drag.begin)"
      :height="height - TOP - FOOT"
    />
    <text v-for="seconds in stops" :key="seconds" :x="x(seconds)" :y="height - 5">{{ moment(seconds) }}</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  touch-action: pan-y;
  cursor: crosshair;
}
.picks {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  font-size: var(--text);
}
.picks [aria-pressed='true'] {
  font-weight: 600;
  text-decoration: none;
  color: inherit;
}
.grid {
  stroke: var(--hair);
}
.band {
  fill: var(--copper);
}
.model {
  fill: none;
  stroke: var(--teal);
  stroke-width: 1.5;
  stroke-dasharray: 5 3;
}
.drag {
  fill: var(--teal);
  opacity: 0.2;
}
</style>
