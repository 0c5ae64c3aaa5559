<script setup lang="ts">
/** The selected cable in every standard size, everything recomputed with it. */
import { computed, nextTick, ref, watch } from 'vue'
import { answered, client } from '../../api/client'
import type { LadderRow } from '../../api/types'
import { number, sizeAside } from '../../ui/format'
import { pathOf, placed } from '../../job/pieces'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import { useJob } from '../../job/store'

const job = useJob()
const body = ref<HTMLElement | null>(null)
const cable = computed(() => placed(job.design, job.place)?.piece.kind === 'cable')
const {
  data: ladder,
  pending,
  trouble,
} = useDerived(
  'ladder',
  (design, signal) => answered(client.POST('/api/ladder', { body: { place: job.place, design }, signal })),
  { more: () => job.place, wanted: () => cable.value, pause_ms: 140 },
)
const GLYPH: Record<LadderRow['verdict'], string> = { stop: '■', caution: '▲', note: '✓', good: '✓' }
const rows = computed(() => (cable.value && ladder.value?.place === job.place ? ladder.value.rows : []))
const limit = computed(() => ladder.value?.limit_percent ?? 3)
const wide = computed(() => limit.value * 3)
const share = (percent: number | null) => `${Math.min(100, (100 * (percent ?? wide.value)) / wide.value)}%`
const judged = computed(() => job.design?.charger !== null && job.design?.charger !== undefined) // nothing drops without a unit
const aside = computed(() =>
  ladder.value && rows.value.length
    ? `limit ${limit.value} % at ${ladder.value.condition.toLowerCase()} · ${number(ladder.value.continuous_a, 'A')} A continuous`
    : '',
)

function chooseSize(size: string): void {
  const at = placed(job.design, job.place)
  if (at) job.change([{ path: `${pathOf(at)}.size`, value: size }])
}
const choose = (row: LadderRow) => {
  chooseSize(row.size)
}
watch([rows, () => job.place], async () => {
  await nextTick()
  const chosen = body.value?.querySelector<HTMLElement>('tr.chosen')
  if (chosen && body.value) body.value.scrollTop = chosen.offsetTop - body.value.clientHeight / 2
})
</script>

<template>
  <section class="panel ladder" aria-label="Size ladder">
    <div class="bench-head">
      <h2>Size ladder</h2>
      <span class="aside">{{ aside }}</span>
    </div>
    <div v-if="rows.length" ref="body" class="scroll">
      <table>
        <thead>
          <tr>
            <th>size</th>
            <th class="wide">drop against limit</th>
            <th class="num">V</th>
            <th class="num">%</th>
            <th class="num">lowest V<br />at charger</th>
            <th class="num">°C at<br />load</th>
            <th class="num">W<br />lost</th>
            <th class="num">A in<br />spare</th>
            <th class="num">device</th>
            <th class="num">€</th>
            <th>verdict</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="row in rows"
            :key="row.size"
            :class="{ chosen: row.chosen }"
            :data-size="row.size"
            @click="choose(row)"
          >
            <th scope="row">
              <button type="button" class="plain" :aria-pressed="row.chosen">{{ row.size }}</button>
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
              <span :class="row.verdict === 'note' ? 'good' : row.verdict" aria-hidden="true">{{
                GLYPH[row.verdict]
              }}</span>
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
        </tbody>
      </table>
    </div>
    <p v-else-if="!cable" class="muted empty">Select a cable on the line to see it in every standard size.</p>
    <AnswerState
      v-if="cable"
      :pending="pending || rows.length === 0"
      :trouble="trouble"
      doing="Working the sizes out…"
    />
    <div v-if="rows.length" class="foot">
      <p class="suggested">
        <template v-for="item in ladder?.suggestions ?? []" :key="item.key"
          ><button
            v-if="item.size"
            type="button"
            class="link"
            :data-suggestion="item.key"
            @click="chooseSize(item.size)"
          >
            {{ item.text }}</button
          ><span v-else class="stop">■ {{ item.text }}</span></template
        >
      </p>
      <p class="muted">{{ ladder?.note }}</p>
    </div>
  </section>
</template>

<style scoped>
.ladder {
  padding: 9px 12px;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.scroll {
  overflow: auto;
  min-height: 0;
  flex: 1;
  position: relative;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--panel);
  z-index: 1;
  font-weight: 500;
  font-size: var(--small);
  color: var(--muted);
  text-align: left;
  vertical-align: bottom;
  line-height: 1.1;
  padding: 0 8px 4px 0;
  border-bottom: 1px solid var(--edge);
}
tbody tr {
  cursor: pointer;
}
tbody tr:hover td,
tbody tr:hover th {
  background: var(--field);
}
tbody th {
  text-align: left;
  font-weight: 600;
  white-space: nowrap;
  padding: 3px 8px 3px 4px;
  border-bottom: 1px solid var(--hair);
}
td {
  padding: 3px 8px 3px 0;
  border-bottom: 1px solid var(--hair);
  white-space: nowrap;
}
table .num {
  text-align: right;
}
tbody tr.chosen td,
tbody tr.chosen th {
  background: var(--copper-wash);
}
.aside-size {
  font-weight: 400;
  font-size: var(--small);
}
.makers {
  font-weight: 500;
  font-size: var(--tiny);
  color: var(--teal);
  border: 1px solid var(--teal);
  border-radius: 3px;
  padding: 0 4px;
  margin-left: 5px;
}
.wide {
  width: 110px;
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
@media (max-width: 700px) {
  .wide,
  tbody td:nth-of-type(2),
  thead th:nth-of-type(3),
  tbody td:nth-of-type(5),
  thead th:nth-of-type(6),
  tbody td:nth-of-type(8),
  thead th:nth-of-type(9) {
    display: none;
  }
  td,
  thead th {
    padding-right: 6px;
  }
  .aside-size {
    display: none;
  }
}
.foot {
  font-size: var(--small);
  line-height: 1.3;
  margin-top: 5px;
}
.suggested {
  display: flex;
  flex-wrap: wrap;
  gap: 1px 16px;
  margin-bottom: 2px;
}
.suggested .link {
  font-weight: 500;
}
.window {
  font-size: var(--small);
}
.empty {
  font-size: var(--text);
  padding: 24px 0;
}
</style>
