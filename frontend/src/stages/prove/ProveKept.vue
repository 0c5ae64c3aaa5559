<script setup lang="ts">
/** What is kept of proving: the record on paper, the workshop's instruments, what was mended. */
defineProps<{ jobId: number; any: boolean; instruments: boolean; cures: readonly string[] }>()
defineEmits<{ instruments: [] }>()
</script>

<template>
  <p class="small">
    <template v-if="any">
      Test record: <a :href="`/api/jobs/${jobId}/tests.pdf`" data-paper="tests-pdf">PDF</a>,
      <a :href="`/api/jobs/${jobId}/tests.csv`" data-paper="tests">CSV</a> ·
    </template>
    <button type="button" class="link" data-instruments @click="$emit('instruments')">
      {{ instruments ? 'Instruments' : 'Add an instrument' }}
    </button>
  </p>
  <p v-for="cure in cures" :key="cure" class="small good" data-noted>✓ {{ cure }}</p>
</template>

<style scoped>
.small {
  font-size: var(--text);
  margin-top: 8px;
}
@media (max-width: 700px) {
  .link,
  a {
    min-height: 44px;
    display: inline-flex;
    align-items: center;
  }
}
</style>
