<script setup lang="ts">
/** One standard size in the ladder, with what comes of it. */
import type { LadderRow } from '../../api/types'
import { number, sizeAside } from '../../ui/format'
import { asThere } from '../../ui/locale'

const props = defineProps<{ row: LadderRow; wide: number; judged: boolean }>()
const GLYPH: Record<LadderRow['verdict'], string> = { stop: '■', caution: '▲', note: '✓', good: '✓' }
const share = (percent: number | null) => `${Math.min(100, (100 * (percent ?? props.wide)) / props.wide)}%`
</script>

<template>
  <tr :class="{ chosen: row.chosen }" :data-size="row.size">
    <th scope="row">
      <button type="button" class="plain" :aria-pressed="row.chosen">{{ asThere(row.size) }}</button>
      <span class="muted aside-size">{{ sizeAside(row.system, row.area_mm2) }}</span><span
        v-if="row.makers"
        class="makers"
        title="Where the unit maker's table points"
        >maker</span
      >
    </th>
    <td class="wide">
      <span v-if="judged" class="track" :class="{ none: row.drop_percent === null }"
        ><span class="fill" :style="{ width: share(row.drop_percent) }" /><span
          class="mark"
          :style="{ left: `${100 / 3}%` }"
      /></span>
    </td>
    <td class="num">{{ number(row.drop_v, 'V') }}</td>
    <td class="num">{{ number(row.drop_percent, '%') }}</td>
    <td class="num">{{ number(row.input_low_v, 'V') }}</td>
    <td class="num">
      {{ row.temperature_c !== null && row.temperature_c > 400 ? '>400' : number(row.temperature_c, '°C') }}
    </td>
    <td class="num">{{ number(row.loss_w, 'W') }}</td>
    <td class="num">{{ Math.round(row.spare_a) }}</td>
    <td class="num">{{ row.device || '–' }}</td>
    <td class="num">{{ Math.round(row.cost) }}</td>
    <td class="verdict">
      <span :class="row.verdict === 'note' ? 'good' : row.verdict" aria-hidden="true">{{ GLYPH[row.verdict] }}</span>
      {{ row.verdict_text
      }}<span
        v-if="row.window_open === false && row.verdict !== 'stop'"
        class="window caution"
        title="No stop threshold fits between rest and the loaded running volts"
      >
        window shut</span
      >
    </td>
  </tr>
</template>

<style scoped>
tr {
  cursor: pointer;
}
tr:hover td,
tr:hover th {
  background: var(--field);
}
th {
  text-align: left;
  font-weight: 600;
  white-space: nowrap;
  padding: 0 8px 0 4px;
  border-bottom: 1px solid var(--hair);
}
td {
  padding: 0 8px 0 0;
  border-bottom: 1px solid var(--hair);
  white-space: nowrap;
}
tr.chosen td,
tr.chosen th {
  background: var(--copper-wash);
}
.aside-size {
  font-weight: 400;
  font-size: var(--small);
}
.makers {
  font-weight: 500;
  font-size: var(--small);
  color: var(--teal);
  border: 1px solid var(--teal);
  border-radius: 3px;
  padding: 0 4px;
  margin-left: 5px;
}
.track {
  position: relative;
  display: block;
  height: 9px;
  background: var(--field);
  border: 1px solid var(--hair);
}
.fill {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--copper);
  opacity: 0.75;
}
.none .fill {
  background: var(--madder);
}
.mark {
  position: absolute;
  top: -4px;
  bottom: -4px;
  width: 1.5px;
  background: var(--ink);
}
.window {
  font-size: var(--small);
}
.num {
  text-align: right;
}
.wide {
  width: 110px;
}
@media (max-width: 700px) {
  .wide,
  td:nth-of-type(2),
  td:nth-of-type(5),
  td:nth-of-type(8),
  .aside-size {
    display: none;
  }
  td {
    padding-right: 6px;
  }
}
</style>
