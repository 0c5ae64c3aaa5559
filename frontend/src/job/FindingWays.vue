<script setup lang="ts">
/** What mends a finding; or that nothing tried does. */
import type { Finding } from '../api/types'
import RemedyList from './RemedyList.vue'
import type { Ways } from './remedies'
import { counted } from '../ui/counted'

defineProps<{ finding: Finding; ways: Ways | undefined }>()
</script>

<template>
  <div v-if="ways">
    <RemedyList :remedies="ways.remedies" />
    <span v-if="ways.remedies.length === 0 && finding.level === 'stop'" class="muted">
      Of {{ counted(ways.tried, 'remedy', 'remedies') }} tried none mends this.
    </span>
  </div>
</template>
