<script setup lang="ts">
/** Volts over many vehicles as the unit measures them, against the thresholds: whiskers 1 to 99, boxes 10 to 90 of a hundred. */
import { fixed } from '../../ui/locale'
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'
import type { Mark, Tolerance } from '../../api/types'
import { spread } from '../../charts/line/geometry'

const props = defineProps<{ report: Tolerance; marks: Mark[] }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const LEFT = 36 // px beside a whisker for its volts
const HALF = 50 // px of a threshold's words
const ROW = 46
const TOP = 44
const seen = computed(() => [
  ...props.report.spreads.flatMap((item) => item.volts),
  ...props.marks.map((item) => item.value_v),
])
const low = computed(() => Math.floor((Math.min(...seen.value) - 0.05) * 4) / 4)
const high = computed(() => Math.ceil((Math.max(...seen.value) + 0.05) * 4) / 4)
const x = computed(() => scaleLinear([low.value, Math.max(high.value, low.value + 0.1)], [LEFT, width.value - LEFT]))
const ticks = computed(() => x.value.ticks(5))
const rows = computed(() =>
  props.report.spreads.map((item, at) => ({
    ...item,
    y: TOP + at * ROW,
    at: (part: number) => x.value(item.volts[part] ?? 0),
  })),
)
const height = computed(() => TOP + rows.value.length * ROW + 20)
const ordered = computed(() => [...props.marks].sort((a, b) => a.value_v - b.value_v))
const labels = computed(() =>
  spread(
    ordered.value.map((mark) => x.value(mark.value_v)),
    78,
    HALF,
    width.value - HALF,
  ),
)
</script>

<template>
  <div ref="box" class="chart">
    <svg
      class="halo"
      v-if="width > 0"
      :width="width"
      :height="height"
      role="img"
      :aria-label="
        report.spreads
          .map((item) => `${item.label} ${fixed(item.volts[0], 2)} to ${fixed(item.volts[4], 2)} V`)
          .join('; ')
      "
    >
      <g v-for="tick in ticks" :key="tick">
        <path :d="`M${x(tick)} ${TOP - 10}V${height - 18}`" class="grid" />
        <text :x="x(tick)" :y="height - 5" class="mid muted-text">{{ fixed(tick, 1) }}&nbsp;V</text>
      </g>
      <g v-for="(mark, at) in ordered" :key="mark.path">
        <path :d="`M${labels[at]} 18L${x(mark.value_v)} ${TOP - 10}V${height - 18}`" class="mark" />
        <text :x="labels[at]" y="13" class="mid strong">
          {{ mark.label.toLowerCase() }} {{ fixed(mark.value_v, 2) }}
        </text>
      </g>
      <g v-for="row in rows" :key="row.key" :class="row.key">
        <text :x="Math.min(Math.max(row.at(2), 74), width - 74)" :y="row.y + 4" class="mid name">
          {{ row.label }}
        </text>
        <path
          :d="`M${row.at(0)} ${row.y + 19}H${row.at(4)}M${row.at(0)} ${row.y + 13}V${row.y + 25}M${row.at(4)} ${row.y + 13}V${row.y + 25}`"
          class="whisker"
        />
        <rect :x="row.at(1)" :y="row.y + 11" :width="Math.max(2, row.at(3) - row.at(1))" height="16" class="bar" />
        <path :d="`M${row.at(2)} ${row.y + 11}V${row.y + 27}`" class="middle" />
        <text :x="row.at(0) - 4" :y="row.y + 23" class="end">{{ fixed(row.volts[0], 2) }}</text>
        <text :x="row.at(4) + 4" :y="row.y + 23">{{ fixed(row.volts[4], 2) }}</text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.chart {
  width: 100%;
}
svg {
  display: block;
}
text {
  font-size: var(--small);
  fill: var(--ink);
  font-family: var(--narrow);
}
.end {
  text-anchor: end;
}
.muted-text {
  fill: var(--muted);
}
.strong,
.name {
  font-weight: 600;
}
.mark {
  stroke: var(--ink);
  stroke-width: 1.3;
  stroke-dasharray: 5 3;
  fill: none;
}
.whisker {
  stroke: var(--copper);
  stroke-width: 1.5;
  fill: none;
}
.bar {
  fill: var(--copper-wash);
  stroke: var(--copper);
  stroke-width: 1.3;
}
.middle {
  stroke: var(--copper);
  stroke-width: 2.5;
}
.rest .whisker,
.rest .middle {
  stroke: var(--muted);
}
.rest .bar {
  fill: var(--field);
  stroke: var(--muted);
  stroke-dasharray: 4 2;
}
</style>
