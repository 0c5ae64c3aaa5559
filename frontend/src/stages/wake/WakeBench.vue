<script setup lang="ts">
/** Wake in five pages: thresholds with the next minutes, the method and its wiring, the old link, tolerances, the road test. */
import { useSessionStorage } from '@vueuse/core'
import { computed, defineAsyncComponent } from 'vue'
import { joins } from '../../job/links'
import { useJob } from '../../job/store'
import BenchPages from '../../ui/BenchPages.vue'
import WakeThresholds from './WakeThresholds.vue'

type Page = 'thresholds' | 'method' | 'link' | 'tolerance' | 'road'
const RoadTest = defineAsyncComponent(() => import('./RoadTest.vue'))
const WakeMethod = defineAsyncComponent(() => import('./WakeMethod.vue'))
const WakeLink = defineAsyncComponent(() => import('./WakeLink.vue'))
const WakeTolerance = defineAsyncComponent(() => import('./WakeTolerance.vue'))
const job = useJob()
const page = useSessionStorage<Page>('olvask.wake', 'thresholds')
const linked = computed(() => (job.design?.existing ?? []).some(joins))
const open = computed(() => linked.value && !job.design?.old_link?.decision)
const pages = computed((): { key: Page; label: string; mark?: string }[] => [
  { key: 'thresholds', label: 'Thresholds' },
  { key: 'method', label: 'Method and wiring' },
  { key: 'link', label: 'Old link', ...(open.value ? { mark: '▲ undecided' } : {}) },
  { key: 'tolerance', label: 'Tolerances' },
  { key: 'road', label: 'Road test' },
])
</script>

<template>
  <BenchPages v-model="page" :pages="pages" name="Wake pages">
    <WakeThresholds v-if="page === 'thresholds'" />
    <WakeMethod v-else-if="page === 'method'" />
    <WakeLink v-else-if="page === 'link'" />
    <WakeTolerance v-else-if="page === 'tolerance'" />
    <RoadTest v-else />
  </BenchPages>
</template>
