<script setup lang="ts" generic="Line extends YardLine">
/** Work over the whole yard as it is told: what is asked, how far it is, and a line for each job worth a look. */
import WorkProgress from '../ui/WorkProgress.vue'
import type { YardLine } from './yardWork'

defineProps<{ found: readonly Line[]; done: number; trouble: string }>()
defineEmits<{ ask: []; stop: [] }>()
defineSlots<{ ask(): unknown; line(props: { line: Line }): unknown; nothing(): unknown }>()
</script>

<template>
  <form class="ask" @submit.prevent="$emit('ask')">
    <slot name="ask" />
    <WorkProgress v-if="done < 1" :done="done" what="Yard" @stop="$emit('stop')" />
  </form>
  <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
  <ul v-if="found.length">
    <li v-for="line in found" :key="line.job ?? 0" data-job-line>
      <RouterLink :to="`/job/${line.job}/survey`">{{ line.title || `job ${line.job}` }}</RouterLink>
      <span class="muted"> {{ line.code }}</span>
      <span v-if="line.unreadable" class="caution"> ▲ cannot be read</span>
      <slot name="line" :line="line" />
    </li>
  </ul>
  <slot v-else-if="done >= 1 && !trouble" name="nothing" />
</template>

<style scoped>
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  font-size: var(--text);
}
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
  font-size: var(--text);
}
li {
  padding: 3px 0;
  border-bottom: 1px solid var(--hair);
}
</style>
