<script setup lang="ts">
/** Match in four pages: limits and shelf, will it keep up, options side by side, the other ways. */
import { useSessionStorage } from '@vueuse/core'
import { computed, defineAsyncComponent } from 'vue'
import BenchPages from '../../ui/BenchPages.vue'
import MatchLimits from './MatchLimits.vue'

type Page = 'limits' | 'week' | 'options' | 'ways'
const MatchWeek = defineAsyncComponent(() => import('./MatchWeek.vue'))
const MatchOptions = defineAsyncComponent(() => import('./MatchOptions.vue'))
const MatchWays = defineAsyncComponent(() => import('./MatchWays.vue'))
const emit = defineEmits<{ working: [name: string] }>()
const page = useSessionStorage<Page>('olvask.match', 'limits')
const pages = computed<{ key: Page; label: string }[]>(() => [
  { key: 'limits', label: 'Limits and shelf' },
  { key: 'week', label: 'Will it keep up' },
  { key: 'options', label: 'Options compared' },
  { key: 'ways', label: 'Other ways' },
])
</script>

<template>
  <BenchPages v-model="page" :pages="pages" name="Match pages">
    <MatchLimits v-if="page === 'limits'" @working="emit('working', $event)" />
    <MatchWeek v-else-if="page === 'week'" @working="emit('working', $event)" />
    <MatchOptions v-else-if="page === 'options'" />
    <MatchWays v-else @working="emit('working', $event)" />
  </BenchPages>
</template>
