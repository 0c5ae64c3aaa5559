<script setup lang="ts">
/** Everything done so far, oldest first. */
import { said } from '../ui/locale'
import { reading } from './names'
import type { CaseState } from './useCase'

defineProps<{ told: CaseState['told'] }>()
</script>

<template>
  <section v-if="told.length" class="panel" aria-label="Done so far">
    <h2>Done so far</h2>
    <ol>
      <li v-for="(item, at) in told" :key="at" :class="{ gone: !item.counts }" data-told>
        {{ said(item.words) }}
        <b>{{ item.value === null ? said(item.answer) : reading(item.value, item.unit) }}</b>
        <span v-if="!item.counts" class="muted"> counts no more</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.panel {
  grid-column: 1 / -1;
  padding: 8px 14px;
}
h2 {
  font-size: var(--head);
}
ol {
  margin: 4px 0 0;
  padding-left: 24px;
  font-size: var(--text);
}
li {
  padding: 2px 0;
  break-inside: avoid;
}
.gone b {
  text-decoration: line-through;
  font-weight: 400;
}
</style>
