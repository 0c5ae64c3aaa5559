<script setup lang="ts">
/** Amperes and charge against time for every source, the one in hand strong, and its volts under the battery's limit; stalls are marked. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Audit } from '../../api/types'
import { entered, fixed, said } from '../../ui/locale'
import { DASHES, linear, paths, spanOf } from './curves'

const props = defineProps<{ audit: Audit; chosen: string }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const LEFT = 44
const RIGHT = 10
const TALL_A = 104
const TALL_C = 104
const TALL_V = 64
const TOP_A = 16
const TOP_C = TOP_A + TALL_A + 26
const TOP_V = TOP_C + TALL_C + 26
const HEIGHT = TOP_V + TALL_V + 20
const span = computed(() => spanOf(props.audit))
const most = computed(() => Math.max(5, ...props.audit.sources.flatMap((item) => item.curve.amps)) * 1.05)
const x = computed(() => linear([0, span.value], [LEFT, Math.max(LEFT + 60, width.value - RIGHT)]))
const yA = computed(() => linear([0, most.value], [TOP_A + TALL_A, TOP_A]))
const low = computed(() => Math.floor(Math.min(props.audit.charge_from, 0.9) * 5) / 5)
const yC = computed(() => linear([low.value, 1], [TOP_C + TALL_C, TOP_C]))
/** Volts of the source in hand alone, the battery's limit hatched above. */
const volts = computed(() => props.audit.sources.find((item) => item.key === props.chosen)?.curve.volts ?? [])
const edge = computed(() => props.audit.high_v ?? null)
const yV = computed(() => {
  const top = Math.max(...volts.value, edge.value ?? 0) + 0.25
  return linear([Math.min(...volts.value, top - 1) - 0.1, top], [TOP_V + TALL_V, TOP_V])
})
const drawn = computed(() =>
  props.audit.sources.map((item, at) => ({
    ...item,
    dash: DASHES[at % DASHES.length] ?? '',
    here: item.key === props.chosen,
    ...paths(item.curve, x.value, yA.value, yC.value, yV.value),
  })),
)
const inHand = computed(() => drawn.value.find((item) => item.here))
const stall = computed(() => {
  const item = inHand.value
  if (!item || item.stalls_at === null || item.stalls_at === undefined) return null
  const from = x.value(Math.min(item.stalls_h ?? 0, span.value * 0.9))
  return { from, to: width.value - RIGHT, y: yC.value(item.stalls_at), share: item.stalls_at }
})
const words = computed(() =>
  props.audit.sources
    .map((item) =>
      item.hours_95 === null || item.hours_95 === undefined
        ? `${item.label} stalls at ${Math.round((item.stalls_at ?? 0) * 100)} %`
        : `${item.label} 95 % after ${fixed(item.hours_95, 1)} h`,
    )
    .join('; '),
)
</script>

<template>
  <div ref="box" class="picture">
    <svg v-if="width > 0" :width="width" :height="HEIGHT" role="img" :aria-label="words">
      <defs>
        <pattern id="over" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V6" class="hatch" />
        </pattern>
        <clipPath id="charge-span">
          <rect :x="LEFT" y="0" :width="Math.max(0, width - LEFT - RIGHT)" :height="HEIGHT" />
        </clipPath>
      </defs>
      <text :x="LEFT - 6" :y="TOP_A - 5" class="end">A</text>
      <g v-for="tick in yA.ticks(4)" :key="`a${tick}`">
        <path :d="`M${LEFT} ${yA(tick)}H${width - RIGHT}`" class="grid" />
        <text :x="LEFT - 6" :y="yA(tick) + 4" class="end">{{ tick }}</text>
      </g>
      <g v-for="tick in yC.ticks(4)" :key="`c${tick}`">
        <path :d="`M${LEFT} ${yC(tick)}H${width - RIGHT}`" class="grid" />
        <text :x="LEFT - 6" :y="yC(tick) + 4" class="end">{{ Math.round(tick * 100) }}&nbsp;%</text>
      </g>
      <g v-for="tick in x.ticks(Math.min(8, span))" :key="`x${tick}`">
        <path
          :d="`M${x(tick)} ${TOP_A}V${TOP_A + TALL_A}M${x(tick)} ${TOP_C}V${TOP_C + TALL_C}M${x(tick)} ${TOP_V}V${TOP_V + TALL_V}`"
          class="grid faint"
        />
        <text :x="x(tick)" :y="HEIGHT - 4" class="mid">{{ entered(tick) }}&nbsp;h</text>
      </g>
      <g v-for="tick in yV.ticks(3)" :key="`v${tick}`">
        <path :d="`M${LEFT} ${yV(tick)}H${width - RIGHT}`" class="grid" />
        <text :x="LEFT - 6" :y="yV(tick) + 4" class="end">{{ fixed(tick, 1) }}</text>
      </g>
      <text :x="LEFT - 6" :y="TOP_V - 6" class="end">V</text>
      <g v-if="edge !== null">
        <rect
          :x="LEFT"
          :y="TOP_V"
          :width="Math.max(0, width - LEFT - RIGHT)"
          :height="Math.max(0, yV(edge) - TOP_V)"
          class="edge"
        />
        <text :x="width - RIGHT - 4" :y="yV(edge) - 3" class="end over">{{ fixed(edge, 1) }}&nbsp;V, no higher</text>
      </g>
      <path v-if="inHand" :d="inHand.volts" :class="['curve', inHand.kind, 'here']" clip-path="url(#charge-span)" />
      <rect
        v-if="stall"
        :x="stall.from"
        :y="stall.y - 5"
        :width="Math.max(0, stall.to - stall.from)"
        height="10"
        class="stall"
      />
      <g clip-path="url(#charge-span)">
        <template v-for="item in drawn" :key="item.key">
          <path
            :d="item.amps"
            :class="['curve', item.kind, { here: item.here }]"
            :stroke-dasharray="item.here ? '' : item.dash"
          />
          <path
            :d="item.charge"
            :class="['curve', item.kind, { here: item.here }]"
            :stroke-dasharray="item.here ? '' : item.dash"
          />
        </template>
      </g>
      <text v-if="inHand" :x="LEFT + 6" :y="TOP_A - 4" class="title">{{ inHand.label }}</text>
      <text v-if="stall" :x="stall.to - 4" :y="stall.y > TOP_C + 30 ? stall.y - 10 : stall.y + 20" class="end stalled">
        stalls at {{ Math.round(stall.share * 100) }}&nbsp;%
      </text>
    </svg>
    <p v-if="inHand?.why" class="why caution">▲ {{ said(inHand.why) }}</p>
  </div>
</template>

<style scoped>
.picture {
  width: 100%;
}
svg {
  display: block;
}
text {
  font-size: var(--small);
  fill: var(--muted);
}
.end {
  text-anchor: end;
}
.title {
  font-weight: 600;
  fill: var(--ink);
}
.faint {
  opacity: 0.5;
}
.curve {
  fill: none;
  stroke: var(--muted);
  stroke-width: 1.2;
}
.curve.here {
  stroke-width: 2.6;
  stroke: var(--teal);
}
.curve.here.mains_charger,
.curve.here.portable_charger,
.curve.here.built_in_charger,
.curve.here.link {
  stroke: var(--copper);
}
.curve.here.solar {
  stroke: var(--ochre);
}
.stall {
  fill: url(#over);
  stroke: var(--madder);
  stroke-dasharray: 2 3;
}
.edge {
  fill: url(#over);
}
.over {
  fill: var(--madder);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
}
.hatch {
  stroke: var(--madder);
  stroke-width: 1;
  opacity: 0.5;
}
.stalled {
  fill: var(--madder);
  font-weight: 600;
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 3px;
}
.why {
  margin: 2px 0 0 44px;
  line-height: 1.35;
}
</style>
