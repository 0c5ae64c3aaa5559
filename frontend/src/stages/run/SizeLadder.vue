<script setup lang="ts">
/** The selected cable in every standard size, everything recomputed with it. */
import { computed, nextTick, ref, watch } from 'vue'
import { answered, client } from '../../api/client'
import type { LadderRow } from '../../api/types'
import { number } from '../../ui/format'
import { pathOf, placed } from '../../job/pieces'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import { useJob } from '../../job/store'
import SizeRow from './SizeRow.vue'
import { UNITS, unitSaid } from '../../ui/units'

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
const rows = computed(() => (cable.value && ladder.value?.place === job.place ? ladder.value.rows : []))
const limit = computed(() => ladder.value?.limit_percent ?? 3)
const wide = computed(() => limit.value * 3)
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
            <th class="num">{{ unitSaid('°C') }} at<br />load</th>
            <th class="num">W<br />lost</th>
            <th class="num">A in<br />spare</th>
            <th class="num">device</th>
            <th class="num">{{ UNITS.currency }}</th>
            <th>verdict</th>
          </tr>
        </thead>
        <tbody>
          <SizeRow v-for="row in rows" :key="row.size" :row="row" :wide="wide" :judged="judged" @click="choose(row)" />
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
table .num {
  text-align: right;
}
.wide {
  width: 110px;
}
@media (max-width: 700px) {
  .wide,
  thead th:nth-of-type(3),
  thead th:nth-of-type(6),
  thead th:nth-of-type(9) {
    display: none;
  }
  thead th {
    padding-right: 6px;
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
.empty {
  font-size: var(--text);
  padding: 24px 0;
}
</style>
