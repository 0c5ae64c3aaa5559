<script setup lang="ts">
/** Build in pages: the procedure, and the ways back. */
import { useSessionStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import BenchPages from '../../ui/BenchPages.vue'
import BuildSteps from './BuildSteps.vue'
import BuildMount from './BuildMount.vue'
import BuildRecover from './BuildRecover.vue'
import BuildSite from './BuildSite.vue'

type Page = 'steps' | 'mount' | 'site' | 'recover'
const page = useSessionStorage<Page>('olvask.build', 'steps')
const pages: { key: Page; label: string }[] = [
  { key: 'steps', label: 'Procedure' },
  { key: 'mount', label: 'Mounting' },
  { key: 'site', label: 'On board' },
  { key: 'recover', label: 'Ways back' },
]
const { data, pending, trouble } = useDerived('procedure', (body, signal) =>
  answered(client.POST('/api/build/procedure', { body, signal })),
)
const strong = ref<readonly string[]>([])
const procedure = computed(() => data.value?.procedure)
</script>

<template>
  <BenchPages v-model="page" :pages="pages" name="Build pages">
    <div v-if="page === 'steps'" class="steps">
      <AnswerState :pending="pending" :trouble="trouble" doing="Putting the steps in order…" />
      <BuildSteps v-if="procedure" :procedure="procedure" @conductors="strong = $event" />
    </div>
    <BuildMount v-else-if="page === 'mount'" />
    <BuildSite v-else-if="page === 'site'" :steps="procedure?.steps ?? []" />
    <BuildRecover v-else :recoveries="data?.recoveries ?? []" />
  </BenchPages>
</template>

<style scoped>
.steps {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  min-height: 0;
}
</style>
