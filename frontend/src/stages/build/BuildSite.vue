<script setup lang="ts">
/** What the work disturbs, what is on board, and the steps the shop adds of its own. */
import { computed } from 'vue'
import type { Placed } from '../../api/types'
import { useJob } from '../../job/store'
import ChoiceField from '../../ui/ChoiceField.vue'
import type { Column } from '../../ui/CellField.vue'
import ListField from '../../ui/ListField.vue'
import NumberField from '../../ui/NumberField.vue'
import TickField from '../../ui/TickField.vue'

const props = defineProps<{ steps: readonly Placed[] }>()
const job = useJob()
const fitted = computed(() => job.design?.site?.auxiliary_there !== 'there')
const airbags = computed(() => job.design?.site?.airbags === true)
const columns: Column[] = [
  { key: 'text', kind: 'text', width: 'minmax(120px, 2fr)' },
  { key: 'why', kind: 'text', width: 'minmax(100px, 1.4fr)' },
  { key: 'group', kind: 'choice', width: '130px' },
  { key: 'after', kind: 'text', width: '120px' },
  { key: 'before', kind: 'text', width: '120px' },
]
const blank = { text: 'Step of your own', why: '', group: 'prepare', after: '', before: '' }
const keys = computed(() => props.steps.map((item) => ({ key: item.step.key, text: item.step.text })))
</script>

<template>
  <div class="site">
    <section class="panel" aria-label="On board">
      <div class="bench-head"><h2>On board, and disturbed by the work</h2></div>
      <ChoiceField path="site.auxiliary_there" />
      <NumberField v-if="fitted" path="site.auxiliary_price" origin="entered" fallback="none" />
      <TickField path="site.mains" />
      <TickField path="site.inverter" />
      <TickField path="site.gas" />
      <TickField path="site.codes" />
      <TickField path="site.drills" />
      <TickField path="site.tank" />
      <TickField path="site.seats" />
      <TickField path="site.airbags" />
      <NumberField v-if="airbags" path="site.airbag_wait_s" fallback="ten minutes" />
      <p class="muted">Mains, gas and airbags are for licensed people, and as the vehicle's maker says.</p>
    </section>
    <section class="panel own" aria-label="Steps of your own">
      <div class="bench-head"><h2>Steps of your own</h2></div>
      <ListField
        path="own_steps"
        what="step"
        :columns="columns"
        :blank="blank"
        empty="None: the steps come from the design."
      />
      <details>
        <summary>Names of steps, to come after or before</summary>
        <dl>
          <div v-for="item in keys" :key="item.key">
            <dt>{{ item.key }}</dt>
            <dd>{{ item.text }}</dd>
          </div>
        </dl>
      </details>
    </section>
  </div>
</template>

<style scoped>
.site {
  display: grid;
  grid-template-columns: minmax(260px, 0.6fr) minmax(0, 1.4fr);
  gap: 10px;
  align-items: start;
}
dl div {
  display: grid;
  grid-template-columns: 180px minmax(0, 1fr);
  gap: 8px;
  font-size: var(--text);
}
dd {
  margin: 0;
}
summary {
  min-height: 32px;
  cursor: pointer;
}
@media (max-width: 1100px) {
  .site {
    grid-template-columns: minmax(0, 1fr);
  }
  summary {
    min-height: 44px;
  }
}
</style>
