<script setup lang="ts">
/** Where a reading should lie: the band, what is expected most, and the reading with its mark. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { ProofRow } from '../../api/types'
import { inHouse, measured } from '../../ui/format'
import { unitSaid } from '../../ui/units'
import { scaled } from './bandScale'

const props = defineProps<{ row: ProofRow }>()
const unit = computed(() => props.row.test.unit ?? '')
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const scale = computed(() => scaled(props.row, width.value))
const digits = computed(() => (scale.value.wide < 2 ? 2 : scale.value.wide < 20 ? 1 : 0))
const shown = (value: number) => inHouse(value, unit.value, digits.value)
const words = computed(() => {
  const { least, most } = props.row
  if (least === null) return most === null ? '' : `at most ${shown(most)} ${unitSaid(unit.value)}`
  if (most === null) return `at least ${shown(least)} ${unitSaid(unit.value)}`
  return `${shown(least)} to ${shown(most)} ${unitSaid(unit.value)}`
})
const POINTS = { below: 'l12 -7v14z', above: 'l-12 -7v14z' }
const INWARDS = { below: 1, above: -1 }
</script>

<template>
  <div ref="box">
    <svg class="chart" v-if="width > 0 && words" :width="width" height="74" role="img" :aria-label="words">
      <path :d="`M8 40H${width - 8}`" class="axis" />
      <rect :x="scale.band[0]" y="28" :width="Math.max(2, scale.band[1] - scale.band[0])" height="24" class="band" />
      <path v-if="row.expected !== null" :d="`M${scale.x(row.expected)} 24V56`" class="expected" />
      <template v-if="row.least === null || row.most === null">
        <text :x="(scale.band[0] + scale.band[1]) / 2" y="68" class="mid">{{ words }}</text>
      </template>
      <template v-else>
        <text :x="scale.band[0]" y="68" class="mid">{{ shown(row.least) }}</text>
        <text :x="scale.band[1]" y="68" class="mid">{{ shown(row.most) }}</text>
      </template>
      <g v-if="row.reading !== null" :class="row.verdict">
        <template v-if="scale.out">
          <path :d="`M${scale.x(row.reading) + 26 * INWARDS[scale.out]} 34l-5 12m10 -12l-5 12`" class="broken" />
          <path :d="`M${scale.x(row.reading)} 40${POINTS[scale.out]}`" class="mark" />
        </template>
        <path v-else :d="`M${scale.x(row.reading)} 30l-7 -12h14z`" class="mark" />
        <text :x="Math.min(Math.max(scale.x(row.reading), 30), width - 30)" y="13" class="mid read">
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
.axis,
.broken {
  stroke: var(--edge);
}
.broken {
  fill: none;
  stroke: var(--ink);
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
