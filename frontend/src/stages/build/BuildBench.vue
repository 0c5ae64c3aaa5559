<script setup lang="ts">
/** Build in pages: the procedure, and the ways back. */
import { useMediaQuery, useSessionStorage } from '@vueuse/core'
import { computed, defineAsyncComponent, ref } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import WiringDiagram from '../../charts/diagram/WiringDiagram.vue'
import AnswerState from '../../ui/AnswerState.vue'
import BenchPages from '../../ui/BenchPages.vue'
import BuildSteps from './BuildSteps.vue'

const BuildBenchTest = defineAsyncComponent(() => import('./BuildBenchTest.vue'))
const BuildDiagram = defineAsyncComponent(() => import('./BuildDiagram.vue'))
const BuildMount = defineAsyncComponent(() => import('./BuildMount.vue'))
const BuildOrders = defineAsyncComponent(() => import('./BuildOrders.vue'))
const BuildQuote = defineAsyncComponent(() => import('./BuildQuote.vue'))
const BuildRecover = defineAsyncComponent(() => import('./BuildRecover.vue'))
const BuildRoutes = defineAsyncComponent(() => import('./BuildRoutes.vue'))
const BuildSite = defineAsyncComponent(() => import('./BuildSite.vue'))

type Page = 'steps' | 'diagram' | 'mount' | 'routes' | 'orders' | 'quote' | 'bench' | 'site' | 'recover'
const page = useSessionStorage<Page>('olvask.build', 'steps')
const pages: { key: Page; label: string }[] = [
  { key: 'steps', label: 'Procedure' },
  { key: 'diagram', label: 'Diagram' },
  { key: 'mount', label: 'Mounting' },
  { key: 'routes', label: 'Routes' },
  { key: 'orders', label: 'Order list' },
  { key: 'quote', label: 'Quote' },
  { key: 'bench', label: 'Bench test' },
  { key: 'site', label: 'On board' },
  { key: 'recover', label: 'Ways back' },
]
const { data, pending, trouble } = useDerived('procedure', (body, signal) =>
  answered(client.POST('/api/build/procedure', { body, signal })),
)
defineEmits<{ pick: [place: string] }>()
const wide = useMediaQuery('(min-width: 1101px)')
const drawing = useDerived('diagram', (body, signal) => answered(client.POST('/api/build/diagram', { body, signal })), {
  wanted: () => wide.value && page.value === 'steps',
  said: false,
})
const strong = ref<readonly string[]>([])
const procedure = computed(() => data.value?.procedure)
</script>

<template>
  <BenchPages v-model="page" :pages="pages" name="Build pages">
    <div v-if="page === 'steps'" class="steps">
      <AnswerState :pending="pending" :trouble="trouble" doing="Putting the steps in order…" />
      <BuildSteps v-if="procedure" :procedure="procedure" @conductors="strong = $event">
        <section v-if="wide && drawing.data.value" class="panel beside" aria-label="Where it is in the diagram">
          <WiringDiagram :drawing="drawing.data.value" :strong="strong" @pick="$emit('pick', $event)" />
        </section>
      </BuildSteps>
    </div>
    <BuildDiagram v-else-if="page === 'diagram'" @pick="$emit('pick', $event)" />
    <BuildMount v-else-if="page === 'mount'" />
    <BuildRoutes v-else-if="page === 'routes'" />
    <BuildOrders v-else-if="page === 'orders'" />
    <BuildQuote v-else-if="page === 'quote'" />
    <BuildBenchTest v-else-if="page === 'bench'" />
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
.beside {
  display: grid;
  grid-template-rows: minmax(0, 1fr);
  overflow: hidden;
}
</style>
