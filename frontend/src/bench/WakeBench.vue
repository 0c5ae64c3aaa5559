<script setup lang="ts">
/** Wake in two pages: thresholds with the next minutes, and the road test. */
import { useSessionStorage } from '@vueuse/core'
import { defineAsyncComponent } from 'vue'
import SubTabs from '../parts/SubTabs.vue'
import WakeThresholds from './WakeThresholds.vue'

type Page = 'thresholds' | 'road'
const RoadTest = defineAsyncComponent(() => import('./RoadTest.vue'))
const page = useSessionStorage<Page>('olvask.wake', 'thresholds')
const PAGES: { key: Page; label: string }[] = [{ key: 'thresholds', label: 'Thresholds' }, { key: 'road', label: 'Road test' }]
</script>

<template>
  <div class="pages">
    <SubTabs v-model="page" :pages="PAGES" name="Wake pages" />
    <WakeThresholds v-if="page === 'thresholds'" />
    <RoadTest v-else />
  </div>
</template>

<style scoped>
.pages { display: flex; flex-direction: column; gap: 4px; min-height: 0; }
.pages > :last-child { flex: 1; min-height: 0; }
</style>
