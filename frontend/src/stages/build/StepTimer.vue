<script setup lang="ts">
/** Seconds to hold or to wait, counted aloud. */
import { clockOf, useCountdown } from './countdown'

const props = defineProps<{ name: string; seconds: number }>()
const { left, running, over, begin, stop } = useCountdown(
  () => props.name,
  () => props.seconds,
)
</script>

<template>
  <div class="timer" :class="{ running, over }" role="timer" :aria-label="`${left} seconds left`">
    <b>{{ clockOf(left) }}</b>
    <button v-if="!running" type="button" class="plain" @click="begin">
      {{ over ? 'Count again' : 'Start counting' }}
    </button>
    <button v-else type="button" class="plain" @click="stop">Stop</button>
    <span v-if="over" class="good" role="status">✓ over: go on</span>
    <span v-else class="muted">it beeps the last three</span>
  </div>
</template>

<style scoped>
.timer {
  display: flex;
  gap: 14px;
  align-items: center;
  border: 1px solid var(--hair);
  border-radius: 3px;
  padding: 8px 10px;
  background: var(--field);
}
b {
  font-size: var(--answer);
  min-width: 84px;
}
.running b {
  color: var(--copper);
}
button {
  border: 1px solid var(--edge);
  border-radius: 3px;
  padding: 6px 14px;
  min-height: 44px;
}
</style>
