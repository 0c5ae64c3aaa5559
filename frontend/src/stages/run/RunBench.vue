<script setup lang="ts">
/** Run in three pages: cables with their ladder, protection, ends and buying. */
import { useSessionStorage } from '@vueuse/core'
import { computed, defineAsyncComponent } from 'vue'
import { useJob } from '../../job/store'
import BenchPages from '../../ui/BenchPages.vue'
import RunLadder from './RunLadder.vue'

type Page = 'ladder' | 'protect' | 'buy'
const RunProtection = defineAsyncComponent(() => import('./RunProtection.vue'))
const RunBuying = defineAsyncComponent(() => import('./RunBuying.vue'))
const emit = defineEmits<{ pick: [place: string] }>()
const page = useSessionStorage<Page>('olvask.run', 'ladder')
const job = useJob()
const wrong = computed(() => {
  const found = (job.assessment?.findings ?? []).filter((item) => item.id.startsWith('protect.'))
  const stops = found.filter((item) => item.level === 'stop').length
  const cautions = found.filter((item) => item.level === 'caution').length
  return stops > 0 ? `■ ${stops}` : cautions > 0 ? `▲ ${cautions}` : ''
})
const pages = computed<{ key: Page; label: string; mark?: string }[]>(() => [
  { key: 'ladder', label: 'Pieces and sizes' },
  { key: 'protect', label: 'Protection', mark: wrong.value },
  { key: 'buy', label: 'Ends and buying' },
])
</script>

<template>
  <BenchPages v-model="page" :pages="pages" name="Run pages">
    <RunLadder v-if="page === 'ladder'" @pick="emit('pick', $event)" />
    <RunProtection v-else-if="page === 'protect'" @pick="emit('pick', $event)" />
    <RunBuying v-else />
  </BenchPages>
</template>
