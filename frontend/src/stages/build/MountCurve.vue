<script setup lang="ts">
/** What the unit gives against the size of two openings, low and high: where it stands, and where it is enough. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { MountReport } from '../../api/types'
import { entered, fixed } from '../../ui/locale'
import { linear } from '../settings/curves'
import { inHouse, measured } from '../../ui/format'
import { unitSaid } from '../../ui/units'

const props = defineProps<{ report: MountReport; here: number | null }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const LEFT = 48
const TOP = 22
const TALL = 150
const most = computed(() => props.report.curve.at(-1)?.each_cm2 ?? 100)
const x = computed(() => linear([0, most.value], [LEFT, Math.max(LEFT + 60, width.value - 14)]))
const y = computed(() => linear([0, props.report.wanted_a * 1.12], [TOP + TALL, TOP]))
const path = computed(() =>
  props.report.curve.map((p, at) => `${at === 0 ? 'M' : 'L'}${x.value(p.each_cm2)} ${y.value(p.yield_a)}`).join(''),
)
const shown = computed(() => Math.min(props.here ?? 0, most.value))
const enough = computed(() => {
  const each = props.report.enough_cm2
  return each !== null && each <= most.value ? each : null
})
const words = computed(
  () =>
    `${fixed(props.report.yield_a, 1)} A of ${fixed(props.report.wanted_a, 0)} A as it stands` +
    (props.report.enough_cm2 === null ? '' : `; enough from ${measured(props.report.enough_cm2, 'cm²', 0)} each`),
)
</script>

<template>
  <div ref="box">
    <svg class="chart" v-if="width > 0" :width="width" :height="TOP + TALL + 36" role="img" :aria-label="words">
      <g v-for="tick in y.ticks(4)" :key="`y${tick}`">
        <path :d="`M${LEFT} ${y(tick)}H${width - 14}`" class="grid" />
        <text :x="LEFT - 6" :y="y(tick) + 4" class="end">{{ entered(tick) }}&nbsp;A</text>
      </g>
      <g v-for="tick in x.ticks(5)" :key="`x${tick}`">
        <path :d="`M${x(tick)} ${TOP + TALL}v4`" class="axis" />
        <text :x="x(tick)" :y="TOP + TALL + 17" class="mid">{{ inHouse(tick, 'cm²', 0) }}</text>
      </g>
      <text :x="(LEFT + width) / 2" :y="TOP + TALL + 33" class="mid">{{ unitSaid('cm²') }}, each of two openings</text>
      <path :d="`M${LEFT} ${TOP}V${TOP + TALL}H${width - 14}`" class="axis" />
      <path :d="`M${LEFT} ${y(report.wanted_a)}H${width - 14}`" class="wanted" />
      <text :x="width - 16" :y="y(report.wanted_a) - 5" class="end">set to {{ fixed(report.wanted_a, 0) }}&nbsp;A</text>
      <path :d="path" class="curve" />
      <g v-if="enough !== null">
        <path :d="`M${x(enough)} ${TOP + TALL}V${y(report.in_room_a)}`" class="enough" />
        <text :x="x(enough) + 5" :y="TOP + TALL - 8" class="good">enough {{ measured(enough, 'cm²', 0) }}</text>
      </g>
      <circle v-if="here !== null" :cx="x(shown)" :cy="y(report.yield_a)" r="6" class="here" />
    </svg>
  </div>
</template>

<style scoped>
.good {
  fill: var(--verdigris);
  font-weight: 600;
}
.grid {
  stroke: var(--hair);
}
.axis {
  stroke: var(--edge);
  fill: none;
}
.wanted {
  stroke: var(--ink);
  stroke-dasharray: 5 3;
}
.curve {
  stroke: var(--teal);
  stroke-width: 2.4;
  fill: none;
}
.enough {
  stroke: var(--verdigris);
  stroke-width: 1.6;
  stroke-dasharray: 2 3;
}
.here {
  fill: var(--copper);
  stroke: var(--panel);
  stroke-width: 1.5;
}
</style>
