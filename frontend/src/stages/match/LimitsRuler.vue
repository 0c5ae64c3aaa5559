<script setup lang="ts">
/** One amp axis: a bar for each limit, the day's floor, units as ticks, the binding limit named. */
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'
import type { Limit, UnitVerdict } from '../../api/types'
import { useJob } from '../../job/store'
import { quantity } from '../../ui/format'
import { entered } from '../../ui/locale'

const props = defineProps<{ units: UnitVerdict[] }>()
const emit = defineEmits<{ working: [name: string] }>()
const FIGURE: Record<string, string> = {
  alternator_share: 'match.alternator_share_a',
  alternator_surplus: 'match.alternator_surplus_a',
}
/** What shows a limit's working, where it has one. */
function presses(key: string) {
  const show = (event: Event) => {
    event.preventDefault()
    emit('working', FIGURE[key] ?? '')
  }
  return {
    click: show,
    keydown: (event: KeyboardEvent) => {
      if (event.key === 'Enter' || event.key === ' ') show(event)
    },
  }
}
const job = useJob()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const WORDS = 68 // px behind the longest bar
const LETTER = 6 // px of a figure's width
const SLIM = 420 // px: below it a limit's name stands over its bar
const TOP = 26
const ruler = computed(() => job.assessment?.ruler ?? null)
const output = computed(() => job.assessment?.figures['output.current_a']?.value ?? null)
const limits = computed(() => (ruler.value?.limits ?? []).filter((item) => item.amps !== null))
const most = computed(() => {
  const chosen = Math.max(output.value ?? 0, ruler.value?.allowed_a ?? 0, ruler.value?.floor_a ?? 0, 10)
  const units = Math.max(0, ...props.units.filter((item) => item.fit !== 'no').map((item) => item.output_a))
  return Math.ceil((Math.max(chosen * 1.5, units * 1.15) + 5) / 10) * 10
})
const slim = computed(() => width.value < SLIM)
const left = computed(() => (slim.value ? 5 : 192))
const row = computed(() => (slim.value ? 36 : 19))
const down = computed(() => (slim.value ? 16 : 0)) // px from a limit's name to its bar
const span = computed(() => Math.max(width.value - left.value - WORDS, 120))
const x = computed(() => scaleLinear([0, most.value], [left.value, left.value + span.value]).clamp(true))
const ticks = computed(() => x.value.ticks(slim.value ? 5 : 8))
const height = computed(() => TOP + limits.value.length * row.value + 34)
const said = (limit: Limit) =>
  `${quantity(limit.amps, 'A')}${(limit.amps ?? 0) > most.value ? ' →' : ''}${limit.binding ? ' binds' : ''}`
/** Where a bar's words begin: behind the line of the design or of the day's need where one would go through them. */
function besides(from: number, words: string): number {
  const wide = words.length * LETTER + 4
  const lines = [ruler.value?.floor_a, output.value].flatMap((amps) => (amps == null ? [] : [x.value(amps)]))
  const past = lines
    .sort((one, two) => one - two)
    .reduce((at, line) => (line > at - 3 && line < at + wide ? line + 5 : at), from)
  return past + wide > width.value ? from : past
}
/** An upright line through every bar; none goes through a name that stands over its bar. */
function upright(at: number, past: number): string {
  const foot = TOP + limits.value.length * row.value
  if (!slim.value) return `M${at} ${TOP - 4}V${foot + past}`
  return `${limits.value.map((_, line) => `M${at} ${TOP + line * row.value + down.value}v18`).join('')}M${at} ${foot - 2}V${foot + past}`
}
const unitTicks = computed(() => props.units.filter((item) => item.fit !== 'no' && item.output_a <= most.value))
</script>

<template>
  <div ref="box" class="ruler">
    <svg
      v-if="ruler && width > 0"
      :width="width"
      :height="height"
      role="group"
      :aria-label="`Limits on the output current; ${ruler.binding} binds at ${quantity(ruler.allowed_a, 'A')}`"
    >
      <defs>
        <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V5" class="hatch-line" />
        </pattern>
      </defs>
      <g v-for="tick in ticks" :key="tick">
        <path :d="`M${x(tick)} ${TOP - 6}V${TOP + limits.length * row + 4}`" class="grid" />
        <text :x="x(tick)" :y="TOP - 10" class="narrow mid muted-t">
          {{ slim && tick === ticks.at(-1) ? `${entered(tick)} A` : entered(tick) }}
        </text>
      </g>
      <text v-if="!slim" x="0" :y="TOP - 10" class="narrow muted-t">A at the output</text>
      <g
        v-for="(limit, at) in limits"
        :key="limit.key"
        :transform="`translate(0 ${TOP + at * row})`"
        :class="{ binding: limit.binding, aside: !limit.governs }"
      >
        <rect :x="x(0)" :y="3 + down" :width="x(limit.amps ?? 0) - x(0)" height="12" class="bar" />
        <rect
          v-if="!limit.governs"
          :x="x(0)"
          :y="3 + down"
          :width="x(limit.amps ?? 0) - x(0)"
          height="12"
          fill="url(#hatch)"
        />
        <path :d="`M${x(limit.amps ?? 0)} ${1 + down}v15`" class="edge" />
        <rect
          x="0"
          y="0"
          :width="slim ? width : left - 1"
          :height="row - 1"
          class="hit"
          :class="{ works: FIGURE[limit.key] }"
          :role="FIGURE[limit.key] ? 'button' : undefined"
          :tabindex="FIGURE[limit.key] ? 0 : undefined"
          :aria-label="FIGURE[limit.key] ? `${limit.label}, ${quantity(limit.amps, 'A')}, show working` : undefined"
          v-on="FIGURE[limit.key] ? presses(limit.key) : {}"
        >
          <title>{{ limit.text }}</title>
        </rect>
      </g>
      <g v-if="ruler.floor_a !== null">
        <path :d="upright(x(ruler.floor_a), 6)" class="floor" />
        <text :x="Math.max(x(ruler.floor_a), 60)" :y="TOP + limits.length * row + 30" class="mid verdigris-t">
          day needs {{ quantity(ruler.floor_a, 'A') }}
        </text>
      </g>
      <g v-for="unit in unitTicks" :key="unit.id">
        <path
          :d="`M${x(unit.output_a)} ${TOP + limits.length * row + 4}v8`"
          class="unit"
          :class="{ chosen: unit.id === job.design?.charger?.id }"
        />
      </g>
      <g v-if="output !== null">
        <path :d="upright(x(output), 12)" class="output" />
        <path :d="`M${x(output) - 5} ${TOP + limits.length * row + 18}h10l-5 -8z`" class="pointer" />
      </g>
      <g
        v-for="(limit, at) in limits"
        :key="limit.key"
        :transform="`translate(0 ${TOP + at * row})`"
        class="words halo"
        :class="{ binding: limit.binding, aside: !limit.governs }"
      >
        <text x="0" y="13" class="label">
          {{ limit.label }}
          <tspan v-if="!limit.governs" class="narrow" dx="4">
            {{ limit.key === 'alternator_cruise' ? '(on the road)' : '(other)' }}
          </tspan>
        </text>
        <text :x="besides(x(limit.amps ?? 0) + 5, said(limit))" :y="13 + down" class="amps narrow">
          {{ said(limit) }}
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.hit {
  fill: transparent;
}
.works {
  cursor: pointer;
}
.works:focus-visible {
  stroke: var(--copper);
  stroke-width: 2;
  outline: none;
}
.hatch-line {
  stroke: var(--panel);
  stroke-width: 3;
}
text {
  font-size: var(--text);
  fill: var(--ink);
}
.muted-t,
.aside text {
  fill: var(--muted);
}
.verdigris-t {
  fill: var(--verdigris);
  font-weight: 600;
}
.bar {
  fill: var(--copper);
  opacity: 0.55;
}
.edge {
  stroke: var(--copper);
  stroke-width: 2;
  fill: none;
}
.aside .bar {
  opacity: 0.25;
}
.aside .edge {
  opacity: 0.5;
}
.binding .bar {
  opacity: 0.95;
}
.binding text {
  font-weight: 600;
}
.amps {
  font-size: var(--small);
}
.words {
  pointer-events: none;
}
.floor {
  stroke: var(--verdigris);
  stroke-width: 2;
  stroke-dasharray: 5 3;
  fill: none;
}
.unit {
  stroke: var(--muted);
  stroke-width: 2;
}
.unit.chosen {
  stroke: var(--ink);
  stroke-width: 3;
}
.output {
  stroke: var(--ink);
  stroke-width: 1.4;
  fill: none;
}
.pointer {
  fill: var(--ink);
}
</style>
