<script setup lang="ts">
/** The working of one figure: rule, numbers, where each came from, and what would change it. */
import Drawer from '../ui/prime/drawer'
import { computed } from 'vue'
import { quantity } from '../ui/format'
import { useJob } from './store'
import { useWorkings } from './workings'

const open = defineModel<boolean>('open', { required: true })
const props = defineProps<{ name: string }>()
const emit = defineEmits<{ show: [name: string] }>()
const job = useJob()
const workings = useWorkings(() => open.value)
const figure = computed(() => {
  const found = job.assessment?.figures[props.name] ?? null
  return found === null ? null : { ...workings.value[props.name], ...found } // its value is never behind the line
})
const isFigure = (path: string) => path !== '' && job.assessment?.figures[path] !== undefined
const written = (value: number | string, unit: string) => (typeof value === 'number' ? quantity(value, unit) : value)
</script>

<template>
  <Drawer
    v-model:visible="open"
    position="right"
    :modal="false"
    :header="figure ? figure.label : 'Working'"
    class="working"
  >
    <article v-if="figure" :data-working="figure.name">
      <p class="answer">{{ quantity(figure.value, figure.unit) }}</p>
      <template v-if="figure.formula"
        ><h3>Rule</h3>
        <p class="formula">{{ figure.formula }}</p></template
      >
      <template v-if="figure.working"
        ><h3>With this job's numbers</h3>
        <p class="formula">{{ figure.working }}</p></template
      >
      <template v-if="figure.inputs?.length">
        <h3>Where the numbers come from</h3>
        <table>
          <tbody>
            <tr v-for="item in figure.inputs" :key="item.label">
              <td>
                <button
                  v-if="isFigure(item.path ?? '')"
                  type="button"
                  class="link"
                  @click="emit('show', item.path ?? '')"
                >
                  {{ item.label }}</button><template v-else>{{ item.label }}</template>
              </td>
              <td class="num">{{ written(item.value, item.unit) }}</td>
              <td class="from">{{ item.provenance }}</td>
            </tr>
          </tbody>
        </table>
      </template>
      <template v-if="figure.source"
        ><h3>Source of the rule</h3>
        <p>{{ figure.source }}</p></template
      >
      <template v-if="figure.changes"
        ><h3>What would change it</h3>
        <p>{{ figure.changes }}</p></template
      >
      <p class="name muted">{{ figure.name }}</p>
    </article>
    <p v-else class="muted">No figure is in focus. Put the focus on a dotted number and press w.</p>
  </Drawer>
</template>

<style scoped>
.answer {
  font-size: var(--answer);
  font-weight: 600;
  color: var(--copper);
}
h3 {
  font-size: var(--text);
  font-weight: 600;
  color: var(--muted);
  margin: 14px 0 3px;
}
.formula {
  font-family: var(--narrow);
  font-size: var(--head);
  line-height: 1.4;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: var(--text);
}
td {
  border-bottom: 1px solid var(--hair);
  padding: 4px 6px 4px 0;
  vertical-align: top;
}
.num {
  text-align: right;
  white-space: nowrap;
  font-weight: 600;
}
.from {
  color: var(--teal);
  padding-left: 8px;
  padding-right: 0;
}
.name {
  margin-top: 18px;
  font-size: var(--small);
}
</style>
