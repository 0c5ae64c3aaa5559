<script setup lang="ts">
/** Will it keep up: charge over a typical week, with driving, the reserve, and what follows. */
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { line as lineOf } from 'd3-shape'
import { computed, ref } from 'vue'
import { answered, client } from '../../api/client'
import NumberField from '../../ui/NumberField.vue'
import { quantity } from '../../ui/format'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import { useJob } from '../../job/store'
import { tied } from '../../ui/tied'

const emit = defineEmits<{ working: [name: string] }>()
const job = useJob()
const box = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(box)
const { data, pending, trouble } = useDerived('week', (body, signal) =>
  answered(client.POST('/api/week', { body, signal })),
)
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const LEFT = 38
const TOP = 18
const tall = computed(() => Math.max(120, Math.min(height.value, 300) - 44))
const x = computed(() => scaleLinear([0, 168], [LEFT, Math.max(LEFT + 80, width.value - 8)]))
const y = computed(() => scaleLinear([0, 1], [TOP + tall.value, TOP]))
const line = computed(
  () =>
    lineOf<number>(
      (_, hour) => x.value(hour),
      (share) => y.value(share),
    ).digits(1)(data.value?.charge ?? []) ?? '',
)
const drives = computed(() => {
  const spans: { from: number; to: number }[] = []
  ;(data.value?.driving ?? []).forEach((on, hour) => {
    const last = spans.at(-1)
    if (on && last?.to === hour) last.to = hour + 1
    else if (on) spans.push({ from: hour, to: hour + 1 })
  })
  return spans
})
const lowest = computed(() => {
  const all = data.value?.charge ?? []
  const at = all.indexOf(Math.min(...all))
  return at < 0 ? null : { at, share: all[at] ?? 0 }
})
const FIGURES = ['energy.recover_h', 'energy.standing_days', 'match.daily_floor_a', 'output.current_a']
const figures = computed(() =>
  FIGURES.flatMap((name) => {
    const item = job.assessment?.figures[name]
    return item ? [item] : []
  }),
)
</script>

<template>
  <div class="week">
    <section class="panel picture" aria-label="A typical week">
      <div class="bench-head">
        <h2>A typical week</h2>
        <span class="aside">state of charge, from full on Monday</span>
      </div>
      <p
        v-if="data"
        class="verdict"
        :class="{ keeps_up: 'good', runs_down: 'stop', unknown: 'note' }[data.verdict]"
        data-week
      >
        <b>{{ { keeps_up: '✓', runs_down: '■', unknown: '○' }[data.verdict] }} {{ tied(data.text) }}</b>
      </p>
      <div ref="box" class="box">
        <svg
          v-if="data && data.charge.length && width > 0"
          :width="width"
          :height="tall + 44"
          role="img"
          :aria-label="data.text"
        >
          <rect
            v-for="span in drives"
            :key="span.from"
            :x="x(span.from)"
            :y="TOP"
            :width="x(span.to) - x(span.from)"
            :height="tall"
            class="drive"
          />
          <g v-for="share in [0, 0.25, 0.5, 0.75, 1]" :key="share">
            <path :d="`M${LEFT} ${y(share)}H${width - 8}`" class="grid" />
            <text :x="LEFT - 5" :y="y(share) + 4" class="end">{{ share * 100 }}&nbsp;%</text>
          </g>
          <g v-for="(day, at) in DAYS" :key="day">
            <path :d="`M${x(at * 24)} ${TOP}v${tall + 5}`" class="grid" />
            <text :x="x(at * 24 + 12)" :y="TOP + tall + 18" class="mid">{{ day }}</text>
          </g>
          <path :d="`M${LEFT} ${y(data.reserve)}H${width - 8}`" class="reserve" />
          <path :d="line" class="charge" />
          <text :x="width - 12" :y="y(data.reserve) + 14" class="end reserve-text halo">
            reserve {{ Math.round(data.reserve * 100) }}&nbsp;%
          </text>
          <g v-if="lowest">
            <circle :cx="x(lowest.at)" :cy="y(lowest.share)" r="4" class="ring" />
            <text
              :x="Math.min(x(lowest.at), width - 60)"
              :y="Math.min(y(lowest.share) + 18, TOP + tall - 4)"
              class="low halo"
            >
              lowest {{ Math.round(lowest.share * 100) }}&nbsp;%
            </text>
          </g>
          <text :x="LEFT" y="11" class="key-text">▒ driving</text>
        </svg>
        <p v-else-if="data" class="muted">Enter daily use and driving hours to see the week.</p>
        <AnswerState :pending="pending" :trouble="trouble" doing="Working the week out…" />
      </div>
    </section>
    <section class="panel" aria-label="Use">
      <div class="bench-head"><h2>What the week depends on</h2></div>
      <NumberField path="use.daily_ah" origin="entered" fallback="open" />
      <NumberField path="use.rest_day_ah" origin="entered" fallback="as daily" />
      <NumberField path="use.drive_h" origin="entered" fallback="open" />
      <NumberField path="use.drive_days" />
      <NumberField path="use.mains_h" />
      <dl>
        <div v-for="figure in figures" :key="figure.name">
          <dt>{{ figure.label }}</dt>
          <dd>
            <button type="button" class="plain figure" :data-figure="figure.name" @click="emit('working', figure.name)">
              {{ figure.value === null ? 'no end' : quantity(figure.value, figure.unit) }}
            </button>
          </dd>
        </div>
      </dl>
    </section>
  </div>
</template>

<style scoped>
.week {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 284px;
  gap: 10px;
}
.picture {
  display: flex;
  flex-direction: column;
}
.box {
  flex: 1;
  min-height: 190px;
}
.verdict {
  font-size: var(--lead);
  margin-bottom: 2px;
}
.drive {
  fill: var(--copper-wash);
}
.charge {
  fill: none;
  stroke: var(--teal);
  stroke-width: 2.4;
}
.reserve {
  stroke: var(--madder);
  stroke-width: 1.4;
  stroke-dasharray: 6 4;
  fill: none;
}
.ring {
  fill: var(--panel);
  stroke: var(--teal);
  stroke-width: 2;
}
text {
  font-size: var(--small);
  fill: var(--muted);
}
.end {
  text-anchor: end;
}
.reserve-text {
  fill: var(--madder);
}
.low {
  fill: var(--ink);
  font-weight: 600;
}
.key-text {
  fill: var(--copper);
}
dl {
  margin: 8px 0 0;
  border-top: 1px solid var(--hair);
  padding-top: 6px;
  font-size: var(--text);
}
dl div {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 2px 0;
}
dt {
  color: var(--muted);
}
dd {
  margin: 0;
  font-weight: 600;
}
.figure {
  border-bottom: 1px dotted var(--edge);
  font-weight: 600;
}
@media (max-width: 1100px) {
  .week {
    grid-template-columns: minmax(0, 1fr);
  }
  .box {
    height: 260px;
  }
}
</style>
