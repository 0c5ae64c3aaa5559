<script setup lang="ts">
/** Readings over time with what was designed, where it matters, and the line through them. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Trend } from '../../api/types'
import { date, fixed } from '../../ui/locale'
import { linear } from '../settings/curves'
import { counted } from '../../ui/counted'

const props = defineProps<{ trend: Trend }>()
const DAY_MS = 86_400_000
const MONTH_D = 30.44
const HEIGHT = 120
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const first = computed(() => props.trend.points[0]?.day ?? 0)
const last = computed(() => props.trend.points.at(-1)?.day ?? 0)
const ahead = computed(() => Math.min(props.trend.in_days ?? 0, last.value - first.value + 120))
const levels = computed(() =>
  [...props.trend.points.map((point) => point.value), props.trend.designed, props.trend.limit].filter(
    (value): value is number => value !== null,
  ),
)
const x = computed(() =>
  linear([first.value, Math.max(last.value + ahead.value, first.value + 1)], [44, width.value - 12]),
)
const room = computed(() => Math.max(1e-6, Math.max(...levels.value) - Math.min(...levels.value)) * 0.12)
const y = computed(() =>
  linear([Math.min(...levels.value) - room.value, Math.max(...levels.value) + room.value], [HEIGHT - 22, 8]),
)
const fit = computed(() => {
  const slope = (props.trend.per_month ?? 0) / MONTH_D
  if (props.trend.per_month === null) return null
  const at = (day: number) => props.trend.now + slope * (day - last.value)
  const end = last.value + ahead.value
  return `M${x.value(props.trend.begins)} ${y.value(at(props.trend.begins))}L${x.value(end)} ${y.value(at(end))}`
})
const when = (day: number) => date(new Date(day * DAY_MS))
</script>

<template>
  <div ref="box">
    <svg
      class="chart halo"
      v-if="width > 80"
      :width="width"
      :height="HEIGHT"
      role="img"
      :aria-label="`${trend.label}, ${counted(trend.points.length, 'reading')} from ${when(first)} to ${when(last)}`"
    >
      <path v-if="trend.designed !== null" :d="`M44 ${y(trend.designed)}H${width - 12}`" class="designed" />
      <path v-if="trend.limit !== null" :d="`M44 ${y(trend.limit)}H${width - 12}`" class="limit" />
      <path v-if="fit" :d="fit" class="fit" />
      <template v-if="trend.designed !== null">
        <text x="40" :y="y(trend.designed) + 4" class="end">{{ fixed(trend.designed, trend.digits) }}</text>
        <text :x="width - 12" :y="y(trend.designed) - 4" class="end">as designed</text>
      </template>
      <template v-if="trend.limit !== null">
        <text x="40" :y="y(trend.limit) + 4" class="end">{{ fixed(trend.limit, trend.digits) }}</text>
        <text :x="width - 12" :y="y(trend.limit) - 4" class="end">from here it matters</text>
      </template>
      <circle
        v-for="point in trend.points"
        :key="`${point.day} ${point.value}`"
        :cx="x(point.day)"
        :cy="y(point.value)"
        r="4"
        :class="{ before: point.day < trend.begins }"
      />
      <text x="44" :y="HEIGHT - 4">{{ when(first) }}</text>
      <text v-if="last > first" :x="Math.min(x(last), width - 40)" :y="HEIGHT - 4" class="mid">{{ when(last) }}</text>
    </svg>
  </div>
</template>

<style scoped>
circle {
  fill: var(--copper);
}
circle.before {
  fill: var(--paper);
  stroke: var(--muted);
}
.fit {
  stroke: var(--copper);
  stroke-width: 1.5;
}
.designed {
  stroke: var(--teal);
  stroke-dasharray: 3 3;
}
.limit {
  stroke: var(--madder);
  stroke-width: 1.5;
}
</style>
