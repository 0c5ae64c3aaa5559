<script setup lang="ts">
/** What mends a finding, each one click; or that nothing tried does. */
import type { Finding } from '../api/types'
import { useJob } from './store'
import type { Ways } from './remedies'

defineProps<{ finding: Finding; ways: Ways | undefined }>()
const job = useJob()
</script>

<template>
  <div v-if="ways" class="ways">
    <button
      v-for="way in ways.remedies"
      :key="way.label"
      type="button"
      class="link way"
      @click="job.change(way.changes.map((item) => ({ path: item.path, value: item.value })))"
    >
      {{ way.label }}
    </button>
    <span v-if="ways.remedies.length === 0 && finding.level === 'stop'" class="muted">
      No single setting, cable or device mends this.
    </span>
  </div>
</template>
