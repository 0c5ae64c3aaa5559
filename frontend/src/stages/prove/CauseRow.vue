<script setup lang="ts">
/** One cause: how likely, how it explains each reading, its cure. */
import type { Diagnosis } from '../../api/types'
import { said } from '../../ui/locale'
import { measured } from '../../ui/format'

defineProps<{ cause: Diagnosis['causes'][number]; open: boolean }>()
defineEmits<{ toggle: []; cured: [] }>()
const digits = (unit: string) => (unit === 'V' ? 2 : unit === 'A' ? 1 : 0)
const far = (row: { expected: number; read: number; spread: number }) =>
  Math.abs(row.read - row.expected) > 2 * row.spread
</script>

<template>
  <article :data-cause="cause.key">
    <button type="button" class="plain" :aria-expanded="open" @click="$emit('toggle')">
      <span>{{ cause.words }}<span v-if="cause.together" class="muted"> · reads alike</span></span
      ><b>{{ Math.round(cause.share * 100) }}&nbsp;%</b>
      <i
        aria-hidden="true"
        :style="{ width: `${Math.max(1, cause.share * 100)}%` }"
        :class="{ healthy: cause.key === 'healthy' }"
      ></i>
    </button>
    <div v-if="open" class="more">
      <p v-if="cause.cure">{{ said(cause.cure) }}</p>
      <table v-if="cause.explained.length">
        <thead>
          <tr>
            <th>Test</th>
            <th class="num">With this</th>
            <th class="num">Read</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in cause.explained" :key="row.test" :class="{ far: far(row) }">
            <th scope="row">{{ said(row.words) }}</th>
            <td class="num">{{ measured(row.expected, row.unit, digits(row.unit)) }}</td>
            <td class="num">{{ far(row) ? '≠ ' : '' }}{{ measured(row.read, row.unit, digits(row.unit)) }}</td>
          </tr>
        </tbody>
      </table>
      <button v-if="cause.key !== 'healthy'" type="button" class="cure" data-cure @click="$emit('cured')">
        Mended: note it, and prove again
      </button>
    </div>
  </article>
</template>

<style scoped>
.plain {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 2px 8px;
  width: 100%;
  font-size: var(--text);
  min-height: 32px;
}
.more {
  display: grid;
  gap: 6px;
  padding: 6px 0;
}
i {
  grid-column: 1 / -1;
  height: 8px;
  background: var(--copper);
}
i.healthy {
  background: var(--verdigris);
}
th {
  text-align: left;
  font-weight: 400;
}
.num {
  padding-left: 10px;
  text-align: right;
  white-space: nowrap;
}
.far td {
  color: var(--madder);
  font-weight: 600;
}
.cure {
  border: 1px solid var(--verdigris);
  border-radius: 4px;
  background: var(--verdigris-wash);
  color: var(--ink);
  min-height: 36px;
  padding: 4px 12px;
  font-weight: 600;
  cursor: pointer;
  justify-self: start;
}
@media (max-width: 700px) {
  .plain,
  .cure {
    min-height: 44px;
  }
}
</style>
