<script setup lang="ts">
/** Remedies, each one click. */
import type { Remedy } from '../api/types'
import { useJob } from './store'
import { tied } from '../ui/tied'

defineProps<{ remedies: readonly Remedy[] }>()
const job = useJob()
</script>

<template>
  <button
    v-for="remedy in remedies"
    :key="remedy.label"
    type="button"
    class="link remedy"
    @click="job.change([...remedy.changes])"
  >
    {{ tied(remedy.label) }}
  </button>
</template>

<style scoped>
.remedy {
  display: block;
  font-size: var(--text);
  margin-top: 3px;
  padding: 2px 0;
}
</style>
