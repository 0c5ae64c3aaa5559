<script setup lang="ts">
/** What is still unknown, and what filling it would change: probed by the core at both ends of what it may be. */
import { computed } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'

const emit = defineEmits<{ fill: [path: string] }>()
const { data, pending, trouble } = useDerived('unknowns', (body, signal) =>
  answered(client.POST('/api/unknowns', { body, signal })),
)
const gaps = computed(() => data.value?.unknowns ?? [])
</script>

<template>
  <section class="panel" aria-label="Still unknown">
    <div class="bench-head">
      <h2>Still unknown</h2>
      <span class="aside">the weightiest first</span>
    </div>
    <AnswerState :pending="pending" :trouble="trouble" doing="Trying each gap at both ends…" />
    <p v-if="data && gaps.length === 0" class="good"><b>✓ Nothing is assumed that could be measured.</b></p>
    <table v-else-if="data">
      <thead>
        <tr>
          <th>Not known</th>
          <th>Meanwhile</th>
          <th>What it would change</th>
          <th><span class="visually-hidden">Fill in</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="gap in gaps" :key="gap.path" :class="{ idle: !gap.matters }" :data-gap="gap.path">
          <th scope="row">
            <span aria-hidden="true">{{ gap.matters ? '▲' : '○' }}</span> {{ gap.label }}
          </th>
          <td>{{ gap.standing }}</td>
          <td>{{ gap.effect }}</td>
          <td>
            <button type="button" class="link" :aria-label="`fill in ${gap.label}`" @click="emit('fill', gap.path)">
              fill in
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
thead th {
  text-align: left;
  color: var(--muted);
  font-weight: 500;
  font-size: var(--text);
  border-bottom: 1px solid var(--edge);
  padding: 2px 12px 4px 0;
}
tbody th,
td {
  text-align: left;
  padding: 5px 12px 5px 0;
  border-bottom: 1px solid var(--hair);
  vertical-align: top;
}
tbody th {
  font-weight: 600;
  white-space: nowrap;
}
.link {
  white-space: nowrap;
}
tbody th span {
  color: var(--ochre);
  font-size: var(--small);
}
.idle,
.idle th {
  color: var(--muted);
  font-weight: 400;
}
.idle th span {
  color: var(--muted);
}
@media (max-width: 700px) {
  tbody tr {
    display: grid;
    padding: 4px 0;
  }
  tbody th {
    white-space: normal;
  }
  td,
  tbody th {
    border: 0;
    padding: 1px 0;
  }
  thead {
    display: none;
  }
  tbody tr {
    border-bottom: 1px solid var(--hair);
  }
}
</style>
