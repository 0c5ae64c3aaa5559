<script setup lang="ts">
/** Why a step stands where it does: what it waits for, and what waits for it. */
import { computed } from 'vue'
import type { Placed } from '../../api/types'
import { said } from '../../ui/locale'

const props = defineProps<{ placed: Placed; numbers: Map<string, number>; texts: Map<string, string> }>()
defineEmits<{ go: [step: string] }>()
const reasons = computed(() => [
  ...props.placed.waits_for.slice(0, 3).map((item) => ({ ...item, side: 'after' })),
  ...props.placed.needed_by.slice(0, 2).map((item) => ({ ...item, side: 'before' })),
])
</script>

<template>
  <div v-if="reasons.length" class="here muted">
    <b>Why here:</b>
    <button
      v-for="item in reasons"
      :key="`${item.side}${item.step}${item.why}`"
      type="button"
      class="plain"
      @click="$emit('go', item.step)"
    >
      {{ item.side }} {{ numbers.get(item.step) }} <i>{{ texts.get(item.step) }}</i> – {{ said(item.why) }}
    </button>
  </div>
</template>

<style scoped>
.here {
  display: grid;
  gap: 1px;
  font-size: var(--text);
  line-height: 1.35;
}
button {
  text-align: left;
  padding: 2px 0;
  color: inherit;
}
@media (max-width: 700px) {
  button {
    min-height: 44px;
  }
}
</style>
