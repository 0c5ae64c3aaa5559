<script setup lang="ts">
/** Where a reading should lie: the band, what is expected most, and the reading with its mark. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { ProofRow } from '../../api/types'
import { inHouse, measured } from '../../ui/format'
import { unitSaid } from '../../ui/units'
import { linear } from '../settings/curves'

const props = defineProps<{ row: ProofRow }>()
const unit = computed(() => props.row.test.unit ?? '')
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const least = computed(() => props.row.least ?? (props.row.most ?? 1) - 1)
const most = computed(() => props.row.most ?? (props.row.least ?? 0) + 1)
const wide = computed(() => Math.max(1e-6, most.value - least.value))
const from = computed(() => Math.min(least.value - wide.value, props.row.reading ?? Infinity) - wide.value * 0.15)
const to = computed(() => Math.max(most.value + wide.value, props.row.reading ?? -Infinity) + wide.value * 0.15)
const x = computed(() => linear([from.value, to.value], [8, Math.max(80, width.value - 8)]))
const digits = computed(() => (wide.value < 2 ? 2 : wide.value < 20 ? 1 : 0))
const words = computed(
  () =>
    `${inHouse(least.value, unit.value, digits.value)} to ${inHouse(most.value, unit.value, digits.value)} ${unitSaid(unit.value)}`,
)
</script>

<template>
  <div ref="box">
    <svg class="chart" v-if="width > 0" :width="width" height="74" role="img" :aria-label="words">
      <path :d="`M8 40H${width - 8}`" class="axis" />
      <rect :x="x(least)" y="28" :width="Math.max(2, x(most) - x(least))" height="24" class="band" />
      <path v-if="row.expected !== null" :d="`M${x(row.expected)} 24V56`" class="expected" />
      <text :x="x(least)" y="68" class="mid">{{ inHouse(least, unit, digits) }}</text>
      <text :x="x(most)" y="68" class="mid">{{ inHouse(most, unit, digits) }}</text>
      <g v-if="row.reading !== null" :class="row.verdict">
        <path :d="`M${x(row.reading)} 54l-7 12h14z`" class="mark" transform="translate(0 -36)" />
        <text :x="Math.min(Math.max(x(row.reading), 30), width - 30)" y="13" class="mid read">
          {{ measured(row.reading, unit, digits) }}
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.read {
  font-size: 13px;
  font-weight: 600;
  fill: var(--ink);
}
.axis {
  stroke: var(--edge);
}
.band {
  fill: var(--verdigris-wash);
  stroke: var(--verdigris);
}
.expected {
  stroke: var(--verdigris);
  stroke-dasharray: 3 3;
}
.mark {
  fill: var(--verdigris);
}
.doubtful .mark,
.query .mark {
  fill: var(--ochre);
}
.wrong .mark {
  fill: var(--madder);
}
</style>
