<script setup lang="ts">
/** A warning sign of ISO 7010: a triangle, and what it warns of. */
defineProps<{ sign: string }>()
const INSIDE: Record<string, string> = {
  W001: 'M24 17v12M24 33v3',
  W002: 'M24 27m-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0M24 19v-3M31 22l3-2M17 22l-3-2M32 30l4 1M16 30l-4 1',
  W012: 'M26 15l-6 11h7l-4 10',
  W021: 'M24 36c-6 0-8-5-5-10c1 3 3 3 3 0c0-4 1-6 3-8c0 5 6 7 6 12c0 4-3 6-7 6z',
}
const NAMES: Record<string, string> = {
  W001: 'Warning',
  W002: 'Warning: explosive atmosphere',
  W012: 'Warning: electricity',
  W021: 'Warning: flammable',
}
</script>

<template>
  <svg class="sign" viewBox="0 0 48 44" role="img" :aria-label="NAMES[sign] ?? 'Warning'">
    <path class="edge" d="M24 3L45 40H3z" />
    <path class="inside" :d="INSIDE[sign] ?? INSIDE.W001" />
  </svg>
</template>

<style scoped>
.sign {
  width: 44px;
  height: 40px;
  flex: none;
}
path {
  fill: none;
  stroke: var(--ochre);
  stroke-width: 2.6;
  stroke-linejoin: round;
  stroke-linecap: round;
}
</style>
