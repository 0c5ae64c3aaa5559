<script setup lang="ts">
/** What each band of the voltage ladder is called, and its two volts. */
import type { ScaleLinear } from 'd3-scale'
import { fixed } from '../../ui/locale'
import type { bandsOf } from './bands'

type Band = ReturnType<typeof bandsOf>[number]
const props = defineProps<{
  bands: Band[]
  left: number
  wide: number
  y: ScaleLinear<number, number>
  slim: boolean
}>()
const LINE = 13 // px
/** A band's name: on a phone a word a line, or it would lie on its neighbour's volts. */
const named = (band: Band) => (props.slim ? band.label.split(' ') : [band.label])
/** Where its upper volts stand, under its name. */
const over = (band: Band) => Math.max(props.y(band.band.high_v) - 4, 8 + LINE * named(band).length)
</script>

<template>
  <g v-for="(item, at) in bands" :key="item.key" :transform="`translate(${left + (at + 0.5) * wide} 0)`">
    <text
      v-for="(word, line) in named(item)"
      :key="word"
      :y="over(item) - LINE * (named(item).length - line)"
      class="name mid narrow"
    >
      {{ word }}
    </text>
    <text :y="over(item)" class="mid narrow">{{ fixed(item.band.high_v, 2) }}</text>
    <text :y="y(item.band.low_v) + 13" class="mid narrow">{{ fixed(item.band.low_v, 2) }}</text>
  </g>
</template>

<style scoped>
text {
  font-size: var(--small);
  fill: var(--ink);
}
.name {
  font-weight: 600;
}
</style>
