<script setup lang="ts">
/** The head of a paper and a few of its lines, as they would look by the rules being typed. */
import { computed } from 'vue'
import type { House } from '../api/types'
import { inUnits, type Units } from '../ui/units'

const props = defineProps<{ house: House; units: Units }>()
const LINES = [
  ['c1 to the unit', '4.50 m, 35 mm²'],
  ['Hottest at full current', '71 °C'],
  ['Stud M8, tightened to', '12.0 N·m'],
  ['Volts at the unit', '13.42 V'],
  ['Room around the unit', '50 mm'],
  ['Labour, an hour', '65.00 €'],
]
const shop = computed(() => props.house.workshop)
function shown(text: string): string {
  const said = inUnits(text, props.units)
  return props.units.decimal === 'comma' ? said.replace('.', ',') : said
}
</script>

<template>
  <aside class="sheet" aria-label="A sheet by these rules" data-house-sample>
    <header>
      <img v-if="shop.picture" :src="`data:image/png;base64,${shop.picture}`" alt="" />
      <b>{{ shop.name || 'Your workshop' }}</b>
      <span v-if="shop.mark">{{ shop.mark }}</span>
      <span v-for="(line, at) in shop.address" :key="at">{{ line }}</span>
      <span>{{ shop.contact }}</span>
    </header>
    <h2>Milk float · MF-001</h2>
    <dl>
      <div v-for="[what, value] in LINES" :key="what">
        <dt>{{ what }}</dt>
        <dd>{{ shown(value ?? '') }}</dd>
      </div>
    </dl>
    <p class="muted">A sample; papers and screens say their figures like this. Job files keep SI units.</p>
  </aside>
</template>

<style scoped>
.sheet {
  background: #fff;
  color: #20262b;
  border: 1px solid var(--hair);
  padding: 22px 24px;
  font-size: var(--text);
  display: grid;
  gap: 12px;
  position: sticky;
  top: 14px;
}
header {
  display: grid;
  border-bottom: 1px solid #b9b2a4;
  padding-bottom: 8px;
  overflow-wrap: anywhere;
}
header img {
  max-width: 160px;
  max-height: 44px;
  margin-bottom: 6px;
}
header b {
  font-size: 17px;
  font-weight: 600;
}
header span {
  color: #5c6060;
}
h2 {
  font-size: 15px;
}
dl {
  display: grid;
  gap: 3px;
  margin: 0;
}
dl div {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  border-bottom: 1px solid #e4dfd3;
}
dd {
  margin: 0;
  font-weight: 500;
  font-variant-numeric: tabular-nums;
}
.muted {
  color: #5c6060;
}
</style>
