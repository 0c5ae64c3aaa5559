<script setup lang="ts">
/** How far a long piece of work has come, and a way to stop it. */
defineProps<{ done: number; what: string }>()
const emit = defineEmits<{ stop: [] }>()
</script>

<template>
  <span class="progress">
    <span
      class="track"
      role="progressbar"
      :aria-label="what"
      :aria-valuenow="Math.round(done * 100)"
      aria-valuemin="0"
      aria-valuemax="100"
      ><span class="bar" :style="{ width: `${done * 100}%` }"
    /></span>
    <span class="narrow">{{ what }} {{ Math.round(done * 100) }}&nbsp;%</span>
    <button type="button" class="link" @click="emit('stop')">Stop</button>
  </span>
</template>

<style scoped>
.progress {
  display: inline-flex;
  align-items: center;
  gap: 8px;
  font-size: var(--text);
}
.track {
  width: 90px;
  height: 8px;
  border: 1px solid var(--edge);
  border-radius: 2px;
  background: var(--field);
}
.bar {
  display: block;
  height: 100%;
  background: var(--copper);
}
</style>
