<script setup lang="ts">
/** The changeover relay at rest: contact 30-87a closed, coil 86/85, what goes on each terminal. */
import type { RelayDesign } from '../../api/types'
import { entered } from '../../ui/locale'

defineProps<{ relay: RelayDesign }>()
</script>

<template>
  <svg viewBox="0 0 240 142" role="img" :aria-label="`Changeover relay ${relay.place_text}`">
    <rect x="74" y="4" width="112" height="132" rx="3" class="case" />
    <path d="M2 42H96" class="wire" />
    <circle cx="99" cy="42" r="3.2" class="dot" />
    <path d="M102 41L156 28" class="arm" />
    <circle cx="160" cy="27" r="3.2" class="dot" />
    <path d="M163 27H238" class="wire" />
    <circle cx="160" cy="58" r="3.2" class="dot" />
    <path d="M163 58H206" class="wire idle" />
    <text x="80" y="36" class="num">30</text>
    <text x="163" y="21" class="num">87a</text>
    <text x="165" y="72" class="num">87</text>
    <rect x="102" y="90" width="56" height="26" class="coil" />
    <path d="M102 116L158 90" class="wire thin" />
    <path d="M2 103H102M158 103H238" class="wire" />
    <text x="79" y="98" class="num">86</text>
    <text x="164" y="98" class="num">85</text>
    <path d="M130 90V50" class="link" />
    <rect x="30" y="36" width="26" height="12" class="fuse" />
    <text x="43" y="31" class="mid">{{ relay.contact_fuse_a ? entered(relay.contact_fuse_a) : '?' }}&nbsp;A</text>
    <rect x="30" y="97" width="26" height="12" class="fuse" />
    <text x="43" y="92" class="mid">{{ entered(relay.coil_fuse_a) }}&nbsp;A</text>
    <text x="2" y="58" class="small">{{ relay.place === 'start_feed' ? 'start feed' : 'auxiliary' }}</text>
    <text x="2" y="119" class="small">{{ relay.driven_by.replace(' feed', '') }}</text>
    <text x="192" y="20" class="small">panel</text>
    <text x="192" y="73" class="small">free</text>
    <text x="200" y="97" class="small">31</text>
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  max-width: 320px;
}
.case {
  fill: var(--field);
  stroke: var(--ink);
  stroke-width: 1.2;
}
.wire {
  fill: none;
  stroke: var(--copper);
  stroke-width: 1.8;
}
.idle {
  stroke: var(--edge);
  stroke-dasharray: 4 3;
}
.thin {
  stroke-width: 1;
}
.arm {
  stroke: var(--ink);
  stroke-width: 2.2;
}
.dot {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.3;
}
.coil,
.fuse {
  fill: var(--panel);
  stroke: var(--ink);
  stroke-width: 1.2;
}
.link {
  stroke: var(--muted);
  stroke-dasharray: 3 3;
}
text {
  font-size: var(--small);
  fill: var(--ink);
  font-family: var(--narrow);
}
.num {
  font-weight: 600;
}
.small {
  fill: var(--muted);
}
</style>
