<script setup lang="ts">
/** The survey in five pages: as found, loads and bank, what is there, still unknown, sums. */
import { useSessionStorage } from '@vueuse/core'
import { computed, defineAsyncComponent } from 'vue'
import { useJob } from '../../job/store'
import BenchPages from '../../ui/BenchPages.vue'
import { focusWhenThere } from '../../ui/focus'
import SurveyFound from './SurveyFound.vue'

type Page = 'found' | 'bank' | 'there' | 'unknown' | 'sums'
const SurveyBank = defineAsyncComponent(() => import('./SurveyBank.vue'))
const SurveyThere = defineAsyncComponent(() => import('./SurveyThere.vue'))
const SurveyUnknown = defineAsyncComponent(() => import('./SurveyUnknown.vue'))
const SurveySums = defineAsyncComponent(() => import('./SurveySums.vue'))
const page = useSessionStorage<Page>('olvask.survey', 'found')
const job = useJob()
/** Turn to the page where something is entered, and put the focus there once it stands. */
function fill(path: string): void {
  page.value = path.startsWith('mount.') ? 'there' : 'found'
  void focusWhenThere(`.bench [data-path="${path}"] input`)
}
const open = computed(() => (job.assessment?.stages.survey?.missing.length ?? 0) > 0)
const pages = computed<{ key: Page; label: string; mark?: string }[]>(() => [
  { key: 'found', label: 'As found' },
  { key: 'bank', label: 'Loads and bank' },
  { key: 'there', label: 'Already there, space' },
  { key: 'unknown', label: 'Still unknown', mark: open.value ? '○' : '' },
  { key: 'sums', label: 'Sums' },
])
</script>

<template>
  <BenchPages v-model="page" :pages="pages" name="Survey pages">
    <SurveyFound v-if="page === 'found'" />
    <SurveyBank v-else-if="page === 'bank'" />
    <SurveyThere v-else-if="page === 'there'" />
    <SurveyUnknown v-else-if="page === 'unknown'" @fill="fill" />
    <SurveySums v-else />
  </BenchPages>
</template>
