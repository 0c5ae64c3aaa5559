<script setup lang="ts">
/** Where this job keeps to other rules than the house: what here, what there, and the house's taken by one press. */
import { computed } from 'vue'
import { answered, client } from '../api/client'
import { useDerived } from '../api/derived'
import { useJob } from '../job/store'
import { fieldAt } from '../ui/fields'
import { said } from '../ui/locale'
import { inUnits, unitSaid } from '../ui/units'
import { useHouse } from './house'
import { getAt } from '../job/path'

const job = useJob()
const house = useHouse()
const { data } = useDerived(
  'house-differs',
  (design, signal) => answered(client.POST('/api/house/differs', { body: design, signal })),
  { pause_ms: 200, said: false },
)
const differs = computed(() => data.value?.differs ?? [])
const shown = (text: string, unit: string) =>
  unit === '' ? said(text) : said(inUnits(`${text} ${unit}`)).replace(unit, unitSaid(unit))
function take(paths: readonly string[]): void {
  job.change(paths.map((path) => ({ path, value: getAt(house.value, path) })))
}
</script>

<template>
  <section class="panel stacked" aria-label="House rules and this job">
    <div class="bench-head"><h2>House rules</h2></div>
    <p v-if="data && differs.length === 0" class="muted" data-house-same>
      This job keeps to the house's rules and rates.
    </p>
    <template v-if="differs.length">
      <ul>
        <li v-for="item in differs" :key="item.path" :data-differs="item.path">
          {{ fieldAt(job.design, item.path).label }}: <b>{{ shown(item.here, item.unit) }}</b>
          <span class="muted">here, {{ shown(item.house, item.unit) }} in the house</span>
          <button type="button" class="link" :aria-label="`take the house's ${item.label}`" @click="take([item.path])">
            take the house's
          </button>
        </li>
      </ul>
      <button
        v-if="differs.length > 1"
        type="button"
        class="link"
        data-house-all
        @click="take(differs.map((item) => item.path))"
      >
        Take all of the house's
      </button>
    </template>
  </section>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 4px;
}
</style>
