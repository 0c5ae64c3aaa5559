<script setup lang="ts">
/** Vertical volts at the charger's terminals: bands, windows, and thresholds to drag or step. */
import { fixed } from '../../ui/locale'
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'
import type { Mark } from '../../api/types'
import { spread } from '../../charts/line/geometry'
import { useDrive } from '../../job/drive'
import { useJob } from '../../job/store'
import { bandsOf } from './bands'
import BandWords from './BandWords.vue'
import MarkChip from './MarkChip.vue'

const job = useJob()
const { off, ready } = useDrive()
const box = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(box)
const wake = computed(() => job.assessment?.wake ?? null)
const TOP = 14
const bottom = computed(() => Math.max(height.value - 12, 180))
const bands = computed(() => bandsOf(wake.value, ready.value ? 'parked' : off.value))
const range = computed(() => {
  const seen = bands.value.flatMap((item) => [item.band.low_v, item.band.high_v])
  for (const mark of wake.value?.marks ?? []) seen.push(mark.value_v)
  const step = (job.design?.vehicle.system_v ?? 12) / 24
  return {
    low: Math.floor((Math.min(...seen) - 0.1) / step) * step,
    high: Math.ceil((Math.max(...seen) + 0.1) / step) * step,
    step,
  }
})
const ticks = computed(() =>
  Array.from(
    { length: Math.round((range.value.high - range.value.low) / range.value.step) + 1 },
    (_, at) => range.value.low + at * range.value.step,
  ),
)
const y = computed(() => scaleLinear([range.value.low, range.value.high], [bottom.value, TOP]))
const slim = computed(() => width.value < 420) // a phone: windows must not slip under the labels
const left = computed(() => (slim.value ? 30 : 40))
const labelWidth = computed(() => (slim.value ? 140 : 152))
const windowWidth = computed(() => (slim.value ? 18 : 24))
const bandWidth = computed(() =>
  Math.max(
    34,
    (width.value - left.value - labelWidth.value - (slim.value ? 54 : 78)) / Math.max(bands.value.length, 1),
  ),
)
const windows = computed(() => {
  const at = wake.value
  const x = left.value + bands.value.length * bandWidth.value + (slim.value ? 2 : 8)
  return [
    { key: 'start', band: at?.start_window, x },
    { key: 'stop', band: at?.stop_window, x: x + windowWidth.value + (slim.value ? 6 : 10) },
  ]
})
const shown = computed(() => (wake.value?.marks ?? []).filter((item) => item.acts))
const labels = computed(() =>
  spread(
    shown.value.map((item) => y.value(item.value_v)),
    34,
    TOP + 8,
    bottom.value - 8,
  ),
)
const dragged = ref<string | null>(null) // the path of a mark

function set(path: string, volts: number): void {
  const step = wake.value?.step_v ?? 0.05
  const kept = Math.min(Math.max(volts, range.value.low), range.value.high)
  job.change([{ path, value: Math.round(Math.round(kept / step) * step * 1000) / 1000 }], path)
}
function grab(event: PointerEvent, path: string): void {
  dragged.value = path
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent): void {
  if (dragged.value === null || box.value === null) return
  const at = event.clientY - box.value.getBoundingClientRect().top
  set(dragged.value, y.value.invert(at))
}
function nudge(event: KeyboardEvent, mark: Mark): void {
  const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 5, PageDown: -5 }[event.key]
  if (by === undefined) return
  event.preventDefault()
  set(mark.path, mark.value_v + by * (wake.value?.step_v ?? 0.05))
}
</script>

<template>
  <div ref="box" class="box">
    <svg v-if="wake && width > 0" class="halo" :width="width" :height="bottom + 12">
      <defs>
        <pattern id="off-hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V6" class="hatch" />
        </pattern>
        <pattern id="run-dots" width="6" height="6" patternUnits="userSpaceOnUse">
          <circle cx="2" cy="2" r="1" class="dot" />
        </pattern>
      </defs>
      <g v-for="tick in ticks" :key="tick">
        <path :d="`M${left} ${y(tick)}H${width - labelWidth}`" class="grid" />
        <text :x="left - 6" :y="y(tick) + 4" class="tick narrow">{{ fixed(tick, 1) }}</text>
      </g>
      <rect
        v-for="(item, at) in bands"
        :key="item.key"
        :x="left + at * bandWidth + (slim ? 3 : 6)"
        :y="y(item.band.high_v)"
        :width="bandWidth - (slim ? 6 : 12)"
        :height="Math.max(3, y(item.band.low_v) - y(item.band.high_v))"
        class="band"
        :class="`band-${item.key}`"
      />
      <template v-if="wake.voltage_used">
        <template v-for="item in windows" :key="item.key">
          <rect
            v-if="item.band"
            :x="item.x"
            :y="y(item.band.high_v)"
            :width="windowWidth"
            :height="Math.max(2, y(item.band.low_v) - y(item.band.high_v))"
            class="window"
          />
        </template>
      </template>
      <!-- Lines lie under every word: where they cross one, the word stays readable. -->
      <path
        v-for="(mark, at) in shown"
        :key="mark.path"
        :d="`M${left} ${y(mark.value_v)}H${width - labelWidth - 8}L${width - labelWidth + 4} ${labels[at]}`"
        class="mark"
        :class="[mark.verdict, { proposed: mark.proposed }]"
      />
      <BandWords :bands="bands" :left="left" :wide="bandWidth" :y="y" :slim="slim" />
      <template v-if="wake.voltage_used">
        <template v-for="item in windows" :key="item.key">
          <text
            v-if="item.band"
            :x="item.x + windowWidth / 2"
            :y="y(item.band.low_v) + 13"
            class="mid narrow window-name"
          >
            {{ item.key }}
          </text>
          <text v-else :x="item.x + 22" :y="y(wake.rest.high_v) + 15" class="narrow shut">{{ item.key }} shut</text>
        </template>
      </template>
      <g v-for="(mark, at) in shown" :key="mark.path" :class="mark.verdict">
        <MarkChip
          :mark="mark"
          :y="labels[at] ?? 0"
          :right="width"
          :wide="labelWidth"
          :low="range.low"
          :high="range.high"
          @pointerdown="grab($event, mark.path)"
          @pointermove="drag"
          @pointerup="dragged = null"
          @pointercancel="dragged = null"
          @keydown="nudge($event, mark)"
        />
      </g>
    </svg>
  </div>
</template>

<style scoped>
.box {
  height: 100%;
  min-height: 250px;
}
svg {
  display: block;
  touch-action: none;
}
text {
  font-size: var(--small);
  fill: var(--ink);
}
.tick {
  text-anchor: end;
  fill: var(--muted);
}
.band {
  fill: url(#run-dots);
  stroke: var(--copper);
  stroke-width: 1.3;
}
.band-rest {
  fill: url(#off-hatch);
  stroke: var(--muted);
}
.band-low {
  fill: none;
  stroke: var(--ochre);
  stroke-dasharray: 4 3;
}
.hatch {
  stroke: var(--muted);
  opacity: 0.5;
}
.dot {
  fill: var(--copper);
  opacity: 0.6;
}
.window {
  fill: var(--verdigris-wash);
  stroke: var(--verdigris);
  stroke-dasharray: 3 2;
}
.window-name {
  fill: var(--verdigris);
}
.shut {
  fill: var(--madder);
  font-weight: 600;
  text-anchor: end;
}
.mark {
  stroke: var(--ink);
  stroke-width: 1.5;
  fill: none;
}
.mark.proposed {
  stroke-dasharray: 6 3;
}
.mark.wrong {
  stroke: var(--madder);
}
.mark.tight {
  stroke: var(--ochre);
}
</style>
