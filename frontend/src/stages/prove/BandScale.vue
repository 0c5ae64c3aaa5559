<script setup lang="ts">
/** Where a reading should lie: the band, what beside it is no more than doubtful, and the reading with what its meter may be out by. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { ProofRow } from '../../api/types'
import { inHouse, measured, spanInHouse } from '../../ui/format'
import { unitSaid } from '../../ui/units'
import { parted, scaled } from './bandScale'

const TALL = 160
const AXIS = 46
const BAR = 34
const BESIDE = AXIS + BAR + 14

const props = defineProps<{ row: ProofRow }>()
const unit = computed(() => props.row.test.unit ?? '')
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const scale = computed(() => scaled(props.row, TALL))
const digits = computed(() => (scale.value.wide < 2 ? 2 : scale.value.wide < 20 ? 1 : 0))
const shown = (value: number) => inHouse(value, unit.value, digits.value)
const words = computed(() => {
  const { least, most } = props.row
  if (least === null) return most === null ? '' : `at most ${shown(most)}`
  return most === null ? `at least ${shown(least)}` : `${shown(least)} to ${shown(most)}`
})
/** The reading; what its meter may be out by only where that shows in as many digits. */
const read = computed(() => {
  const { reading, out_by } = props.row
  if (reading === null) return ''
  if (unit.value === 'Ω' && reading >= 1000) return measured(reading, 'Ω', 0)
  const spread =
    out_by === null || Number(out_by.toFixed(digits.value)) === 0
      ? ''
      : ` ± ${spanInHouse(out_by, unit.value, digits.value)}`
  return shown(reading) + spread
})
/** Each figure beside the bar: its words, and where it stands once none lies on another. */
const figures = computed(() => {
  const { least, most, reading } = props.row
  const one = least === null || most === null
  const all: [string, number, boolean][] = []
  if (reading !== null) all.push([read.value, scale.value.y(reading), true])
  if (one) all.push([words.value, (scale.value.band[0] + scale.value.band[1]) / 2, false])
  if (!one) all.push([shown(most), scale.value.band[0], false], [shown(least), scale.value.band[1], false])
  const places = parted(all.map(([, y]) => y))
  return all.map(([text, , strong], at) => ({ text, strong, y: (places[at] ?? 0) + 4 }))
})
const points = computed(() => (scale.value.out === 'above' ? 'l-7 11h14z' : 'l-7 -11h14z'))
const inwards = computed(() => (scale.value.out === 'above' ? 1 : -1))
</script>

<template>
  <div ref="box" class="scale">
    <svg
      v-if="width > 0 && words"
      class="chart"
      :width="width"
      :height="TALL"
      role="img"
      :aria-label="`${words} ${unitSaid(unit)}`"
    >
      <defs>
        <pattern id="in-band" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V6" class="hatch" />
        </pattern>
      </defs>
      <text :x="AXIS - 8" y="12" class="end">{{ unitSaid(unit) }}</text>
      <path :d="`M${AXIS} 6V${TALL - 6}`" class="axis" />
      <g v-for="tick in scale.ticks" :key="tick">
        <path :d="`M${AXIS - 4} ${scale.y(tick)}H${AXIS}`" class="axis" />
        <text :x="AXIS - 8" :y="scale.y(tick) + 4" class="end">{{ shown(tick) }}</text>
      </g>
      <rect
        v-for="[from, to] in scale.doubtful"
        :key="from"
        :x="AXIS + 6"
        :y="from"
        :width="BAR"
        :height="Math.max(0, to - from)"
        class="doubtful"
      />
      <rect
        :x="AXIS + 6"
        :y="scale.band[0]"
        :width="BAR"
        :height="Math.max(2, scale.band[1] - scale.band[0])"
        class="band"
      />
      <path v-if="row.expected !== null" :d="`M${AXIS + 6} ${scale.y(row.expected)}h${BAR}`" class="expected" />
      <g v-if="row.reading !== null" :class="row.verdict">
        <template v-if="scale.out">
          <path :d="`M${AXIS + 17} ${scale.y(row.reading) + 24 * inwards}l12 -4m-12 9l12 -4`" class="broken" />
          <path :d="`M${AXIS + 23} ${scale.y(row.reading)}${points}`" class="mark" />
        </template>
        <template v-else>
          <path :d="`M${AXIS} ${scale.y(row.reading)}h${BAR + 10}`" class="line" />
          <path
            v-if="scale.spread"
            :d="`M${AXIS + 18} ${scale.spread[0]}h10m-5 0V${scale.spread[1]}m-5 0h10`"
            class="spread"
          />
        </template>
      </g>
      <text
        v-for="({ text, strong, y }, at) in figures"
        :key="at"
        :x="BESIDE"
        :y="y"
        :class="strong ? ['read', row.verdict] : ''"
      >
        {{ text }}
      </text>
    </svg>
  </div>
</template>

<style scoped>
.scale {
  min-width: 0;
  overflow: hidden;
}
.read {
  font-size: 14px;
  font-weight: 600;
  fill: var(--ink);
}
.axis,
.broken {
  stroke: var(--edge);
}
.broken {
  fill: none;
  stroke: var(--ink);
}
.band {
  fill: url(#in-band);
  stroke: var(--verdigris);
}
.hatch {
  stroke: var(--verdigris);
  opacity: 0.55;
}
rect.doubtful {
  fill: none;
  stroke: var(--ochre);
  stroke-dasharray: 4 3;
}
.expected {
  stroke: var(--verdigris);
  stroke-width: 2;
}
.line {
  stroke: var(--verdigris);
  stroke-width: 3;
}
.spread {
  fill: none;
  stroke: var(--verdigris);
  stroke-width: 1.5;
}
.mark {
  fill: var(--verdigris);
}
g.doubtful path,
g.query path {
  stroke: var(--ochre);
}
g.wrong path {
  stroke: var(--madder);
}
.doubtful .mark,
.query .mark,
text.doubtful,
text.query {
  fill: var(--ochre);
}
.wrong .mark,
text.wrong {
  fill: var(--madder);
}
</style>
