<script setup lang="ts">
/** One signal's way to the unit as a drawing: terminal, fuse, wire, switch or bridge, enable input. */
import type { SignalWire } from '../api/types'

defineProps<{ wire: SignalWire }>()
const Y = 34
</script>

<template>
  <figure>
    <svg viewBox="0 0 520 68" role="img" :aria-label="`${wire.taken_at} to ${wire.ends_at}${wire.fuse_a ? `, fuse ${wire.fuse_a} A` : ''}`">
      <rect x="1.5" y="13" width="148" height="42" rx="2" class="box" />
      <text v-if="wire.terminal" x="12" :y="Y + 6" class="terminal">{{ wire.terminal }}</text>
      <foreignObject :x="wire.terminal ? 46 : 10" y="15" :width="wire.terminal ? 100 : 136" height="38"><div class="where">{{ wire.taken_at }}</div></foreignObject>
      <path :d="`M150 ${Y}H${wire.fuse_a ? 186 : 250}`" class="wire" />
      <g v-if="wire.fuse_a"><rect x="186" :y="Y - 7" width="34" height="14" class="box" /><path :d="`M186 ${Y}H220`" class="wire thin" /><text x="203" :y="Y - 12" class="mid">{{ wire.fuse_a }} A</text><path :d="`M220 ${Y}H250`" class="wire" /></g>
      <template v-if="wire.through === 'switch'"><circle cx="256" :cy="Y" r="3" class="dot" /><path :d="`M258 ${Y}L288 ${Y - 15}`" class="wire" /><circle cx="292" :cy="Y" r="3" class="dot" /><text x="274" :y="Y + 20" class="mid">switch</text></template>
      <template v-else-if="wire.through === 'bridge'"><path :d="`M250 ${Y}C262 ${Y - 22} 286 ${Y - 22} 298 ${Y}`" class="wire" /><text x="274" :y="Y + 16" class="mid">bridge</text></template>
      <path v-else :d="`M250 ${Y}H298`" class="wire" />
      <path :d="`M298 ${Y}H372`" class="wire" />
      <text v-if="wire.wire_mm2" x="336" :y="Y - 7" class="mid">{{ wire.wire_mm2 }} mm²</text>
      <rect x="372" y="13" width="146" height="42" rx="2" class="box unit" />
      <text x="445" :y="Y - 3" class="mid strong">unit</text><text x="445" :y="Y + 13" class="mid">{{ wire.ends_at }}</text>
    </svg>
    <figcaption><b>Live</b> {{ wire.live }}. <b>{{ wire.wire_mm2 ? 'If the wire breaks' : 'No wire to break' }}:</b> {{ wire.if_broken }}</figcaption>
  </figure>
</template>

<style scoped>
figure { margin: 0; } svg { display: block; width: 100%; max-width: 560px; }
.box { fill: var(--field); stroke: var(--ink); stroke-width: 1.3; } .unit { fill: var(--copper-wash); stroke: var(--copper); }
.wire { fill: none; stroke: var(--copper); stroke-width: 2; } .thin { stroke-width: 1.2; } .dot { fill: var(--panel); stroke: var(--ink); stroke-width: 1.4; }
text { font-size: 12px; fill: var(--ink); font-family: 'Barlow Semi Condensed'; } .mid { text-anchor: middle; } .terminal { font-size: 18px; font-weight: 600; } .strong { font-weight: 600; }
.where { font-size: 12px; line-height: 1.15; height: 100%; display: flex; align-items: center; font-family: 'Barlow Semi Condensed'; }
figcaption { font-size: 13px; line-height: 1.35; margin-top: 3px; }
</style>
