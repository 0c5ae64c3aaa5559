<script setup lang="ts">
/** A stage that stands in the bar but is not built yet: it says so, and what already serves instead. */
import type { Stage } from '../../app/router'

defineProps<{ stage: Stage }>()
const TEXT: Record<string, [string, string]> = {
  prove: [
    'Each test with its expected band, one at a time, on a phone.',
    'Until then the expected values stand on the hand-over sheet.',
  ],
}
</script>

<template>
  <section class="panel come">
    <p class="tag">to come</p>
    <p>{{ TEXT[stage]?.[0] }}</p>
    <p class="muted">{{ TEXT[stage]?.[1] }}</p>
  </section>
</template>

<style scoped>
.come {
  padding: 26px 22px;
  display: grid;
  gap: 6px;
  align-content: start;
  font-size: var(--head);
}
.tag {
  font-size: var(--text);
  font-weight: 600;
  color: var(--ochre);
}
</style>
