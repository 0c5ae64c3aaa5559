<script setup lang="ts">
/** Battery, shunt, and every negative on its side of it: what goes past is drawn to the post itself. */
import { computed } from 'vue'

const props = defineProps<{ past: readonly string[]; names: readonly { value: string; label: string }[] }>()
const SHORT: Record<string, string> = {
  unit: 'unit',
  solar: 'solar',
  mains: 'mains',
  built_in: 'built-in',
  loads: 'loads',
  inverter: 'inverter',
  chassis: 'chassis',
  monitor_feed: 'feed',
}
const seen = computed(() => props.names.filter((item) => !props.past.includes(item.value)))
const gone = computed(() => props.names.filter((item) => props.past.includes(item.value)))
const words = computed(() =>
  gone.value.length
    ? `Past the shunt: ${gone.value.map((item) => item.label).join(', ')}`
    : 'Every negative goes through the shunt',
)
const spread = (count: number, at: number) => 160 + (count === 1 ? 0 : (at * 124) / Math.max(1, count - 1))
</script>

<template>
  <svg viewBox="0 0 310 164" role="img" :aria-label="words">
    <rect x="10" y="40" width="64" height="46" class="box" />
    <text x="42" y="60" class="mid">battery</text>
    <text x="22" y="80">+</text>
    <text x="58" y="80">−</text>
    <path d="M62 86V104H100" class="wire" />
    <rect x="100" y="97" width="44" height="14" class="shunt" />
    <text x="122" y="128" class="mid">shunt</text>
    <path d="M144 104H302" class="wire" />
    <g v-for="(item, at) in seen" :key="item.value">
      <path :d="`M${spread(seen.length, at)} 104V118`" class="wire" />
      <text :x="spread(seen.length, at)" :y="130 + (at % 3) * 14" class="mid">{{ SHORT[item.value] }}</text>
    </g>
    <g v-for="(item, at) in gone" :key="item.value">
      <path :d="`M66 ${62 - at * 9}H${130 + at * 24}V${34 - (at % 2) * 12}`" class="bad" />
      <text :x="130 + at * 24" :y="30 - (at % 2) * 12" class="mid wrong">{{ SHORT[item.value] }}</text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 420px;
  display: block;
}
.box {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}
.shunt {
  fill: var(--copper-wash);
  stroke: var(--copper);
  stroke-width: 1.4;
}
.wire {
  stroke: var(--ink);
  stroke-width: 1.4;
  fill: none;
}
.bad {
  stroke: var(--madder);
  stroke-width: 1.6;
  stroke-dasharray: 5 3;
  fill: none;
}
text {
  font-size: 13px;
  fill: var(--muted);
  font-family: var(--narrow);
}
.wrong {
  fill: var(--madder);
  font-weight: 600;
}
</style>
