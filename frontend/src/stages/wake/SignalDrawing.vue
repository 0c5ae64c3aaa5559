<script setup lang="ts">
/** One signal's way to the unit as a drawing: terminal, fuse, wire, switch or bridge, enable input. */
import type { SignalWire } from '../../api/types'
import { entered } from '../../ui/locale'

defineProps<{ wire: SignalWire }>()
const Y = 34
</script>

<template>
  <figure>
    <svg
      viewBox="0 0 400 68"
      role="img"
      :aria-label="`${wire.taken_at} to ${wire.ends_at}${wire.fuse_a ? `, fuse ${entered(wire.fuse_a)} A` : ''}`"
    >
      <rect x="1.5" y="13" width="126" height="42" rx="2" class="box" />
      <text v-if="wire.terminal" x="9" :y="Y + 6" class="terminal">{{ wire.terminal }}</text>
      <foreignObject :x="wire.terminal ? 34 : 8" y="14" :width="wire.terminal ? 92 : 116" height="40"
        ><div class="where">{{ wire.taken_at }}</div></foreignObject
      >
      <path :d="`M128 ${Y}H${wire.fuse_a ? 148 : 204}`" class="wire" />
      <g v-if="wire.fuse_a">
        <rect x="148" :y="Y - 7" width="30" height="14" class="box" />
        <path :d="`M148 ${Y}H178`" class="wire thin" />
        <text x="163" :y="Y - 12" class="mid">{{ entered(wire.fuse_a) }}&nbsp;A</text>
        <path :d="`M178 ${Y}H204`" class="wire" />
      </g>
      <template v-if="wire.through === 'switch'">
        <circle cx="208" :cy="Y" r="3" class="dot" />
        <path :d="`M210 ${Y}L236 ${Y - 14}`" class="wire" />
        <circle cx="240" :cy="Y" r="3" class="dot" />
        <text x="224" :y="Y + 18" class="mid">switch</text>
      </template>
      <template v-else-if="wire.through === 'bridge'">
        <path :d="`M204 ${Y}C214 ${Y - 22} 234 ${Y - 22} 244 ${Y}`" class="wire" />
        <text x="224" :y="Y + 16" class="mid">bridge</text>
      </template>
      <path v-else :d="`M204 ${Y}H244`" class="wire" />
      <path :d="`M244 ${Y}H296`" class="wire" />
      <text v-if="wire.wire_mm2" x="268" :y="Y - 7" class="mid">{{ entered(wire.wire_mm2) }}&nbsp;mm²</text>
      <g v-if="wire.plug">
        <path :d="`M262 ${Y - 5}a5 5 0 0 0 0 10M266 ${Y - 5}a5 5 0 0 1 0 10`" class="wire" />
        <text x="240" :y="Y + 18" class="mid">plug, {{ wire.plug }}</text>
      </g>
      <rect x="296" y="13" width="102" height="42" rx="2" class="box unit" />
      <foreignObject x="298" y="14" width="98" height="40"
        ><div class="where ends">
          <span><b>unit</b> {{ wire.ends_at }}</span>
        </div></foreignObject
      >
    </svg>
    <figcaption>
      <b>Live</b> {{ wire.live }}. <b>{{ wire.wire_mm2 ? 'If the wire breaks' : 'No wire to break' }}:</b>
      {{ wire.if_broken }}
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  max-width: 440px;
}
.box {
  fill: var(--field);
  stroke: var(--ink);
  stroke-width: 1.2;
}
.unit {
  fill: var(--copper-wash);
  stroke: var(--copper);
}
.wire {
  fill: none;
  stroke: var(--copper);
  stroke-width: 1.8;
}
.thin {
  stroke-width: 1.1;
}
.dot {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.3;
}
text {
  font-size: var(--text);
  fill: var(--ink);
  font-family: var(--narrow);
}
.terminal {
  font-size: var(--title);
  font-weight: 600;
}
.where {
  font-size: var(--text);
  line-height: 1.08;
  height: 100%;
  display: flex;
  align-items: center;
  font-family: var(--narrow);
}
.ends {
  justify-content: center;
  text-align: center;
}
.ends b {
  display: block;
  font-weight: 600;
}
figcaption {
  font-size: var(--text);
  line-height: 1.35;
  margin-top: 3px;
}
</style>
