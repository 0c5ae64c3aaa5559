<script setup lang="ts">
/** Volts against time as a staircase; where the unit charges, the ground is filled. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { BenchTest } from '../../api/types'
import { fixed } from '../../ui/locale'
import { linear } from '../settings/curves'

const props = defineProps<{ test: BenchTest }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const LEFT = 46
const TOP = 16
const TALL = 92
const x = computed(() => linear([0, props.test.total_s], [LEFT, Math.max(LEFT + 80, width.value - 10)]))
const y = computed(() => {
  const volts = props.test.steps.map((step) => step.volts)
  return linear([Math.min(...volts) - 0.2, Math.max(...volts) + 0.2], [TOP + TALL, TOP])
})
const stairs = computed(() => {
  let at = 0
  return props.test.steps.map((step, number) => {
    const from = at
    at += step.seconds
    const turns = step.changes_after_s === null ? null : from + step.changes_after_s
    const charging = step.ends === 'charging'
    const was = step.begins === 'charging'
    return {
      ...step,
      number: number + 1,
      from,
      to: at,
      turns,
      fill: charging ? [turns ?? from, at] : was ? [from, turns ?? at] : null,
    }
  })
})
const path = computed(() =>
  stairs.value
    .map((step, at) => `${at === 0 ? 'M' : 'L'}${x.value(step.from)} ${y.value(step.volts)}H${x.value(step.to)}`)
    .join(''),
)
const words = computed(() =>
  props.test.steps.map((step) => `${step.name} ${fixed(step.volts, 2)} V, ${step.text}`).join('; '),
)
</script>

<template>
  <div ref="box">
    <svg class="chart" v-if="width > 0" :width="width" :height="TOP + TALL + 24" role="img" :aria-label="words">
      <g v-for="tick in y.ticks(4)" :key="tick">
        <path :d="`M${LEFT} ${y(tick)}H${width - 10}`" class="grid" />
        <text :x="LEFT - 6" :y="y(tick) + 4" class="end">{{ fixed(tick, 1) }}&nbsp;V</text>
      </g>
      <template v-for="step in stairs" :key="step.number">
        <rect
          v-if="step.fill"
          :x="x(step.fill[0] ?? 0)"
          :y="y(step.volts)"
          :width="Math.max(0, x(step.fill[1] ?? 0) - x(step.fill[0] ?? 0))"
          :height="TOP + TALL - y(step.volts)"
          class="charging"
        />
        <text :x="(x(step.from) + x(step.to)) / 2" :y="TOP + TALL + 16" class="mid">{{ step.number }}</text>
      </template>
      <path :d="path" class="volts" />
    </svg>
    <p class="muted">Filled: it charges. The numbers are the steps of the supply.</p>
  </div>
</template>

<style scoped>
.grid {
  stroke: var(--hair);
}
.volts {
  fill: none;
  stroke: var(--copper);
  stroke-width: 2.2;
}
.charging {
  fill: var(--verdigris);
  opacity: 0.25;
}
p {
  font-size: var(--text);
}
</style>
