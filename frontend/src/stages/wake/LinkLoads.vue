<script setup lang="ts">
/** Every load by engine state before and after the old link's change, what is lost, and making it safe. */
import { computed } from 'vue'
import type { OldLinkPlan } from '../../api/types'
import { useDrive } from '../../job/drive'
import { useJob } from '../../job/store'

const props = defineProps<{ link: OldLinkPlan }>()
const job = useJob()
const { off } = useDrive()
const decided = computed(
  () => job.design?.old_link?.decision || props.link.choices.find((item) => item.recommended)?.key,
)
</script>

<template>
  <section class="panel" aria-label="Loads before and after">
    <div class="bench-head">
      <h2>What powers what</h2>
      <span class="aside">{{ decided === link.decision ? 'as decided' : 'as recommended' }}</span>
    </div>
    <table>
      <thead>
        <tr>
          <th scope="col" rowspan="2"><span class="visually-hidden">Load</span></th>
          <th scope="colgroup" colspan="2">before</th>
          <th scope="colgroup" colspan="2" class="after">after</th>
        </tr>
        <tr>
          <th scope="col">{{ off }}</th>
          <th scope="col">running</th>
          <th scope="col" class="after">{{ off }}</th>
          <th scope="col">running</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in link.rows" :key="row.name" :class="{ lost: row.lost }">
          <th scope="row">{{ row.name }}</th>
          <td>{{ row.before_off }}</td>
          <td>{{ row.before_running }}</td>
          <td class="after" :class="{ changed: row.before_off !== row.after_off }">{{ row.after_off }}</td>
          <td :class="{ changed: row.before_running !== row.after_running }">{{ row.after_running }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="link.lost.length" class="small"><b class="caution">▲ Lost:</b> {{ link.lost.join('; ') }}.</p>
    <p v-else class="small good">✓ Nothing is lost.</p>
    <h3>Making it safe</h3>
    <ol>
      <li v-for="step in link.make_safe" :key="step">{{ step }}</li>
    </ol>
    <p class="small muted">{{ link.standing }}</p>
    <p class="small muted">Work on a live feed only isolated and fused; the vehicle maker's instructions rule.</p>
  </section>
</template>

<style scoped>
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin-top: 5px;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: var(--text);
  line-height: 1.25;
}
th,
td {
  text-align: left;
  padding: 3px 8px 3px 0;
  border-bottom: 1px solid var(--hair);
  vertical-align: top;
}
thead th {
  color: var(--muted);
  font-weight: 500;
}
tbody th {
  font-weight: 600;
  min-width: 108px;
}
.after {
  border-left: 1px solid var(--edge);
  padding-left: 8px;
}
.changed {
  color: var(--teal);
  font-weight: 600;
}
.lost .changed {
  color: var(--ochre);
}
h3 {
  font-size: var(--text);
  margin: 8px 0 2px;
}
ol {
  margin: 0;
  padding-left: 18px;
  font-size: var(--text);
  line-height: 1.35;
}
</style>
