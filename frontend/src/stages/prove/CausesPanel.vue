<script setup lang="ts">
/** What explains the readings: causes as bars, predicted against measured, and the measurement that would tell most. */
import { ref } from 'vue'
import type { Diagnosis } from '../../api/types'
import { fixed, said } from '../../ui/locale'

defineProps<{ diagnosis: Diagnosis; nameOf: (key: string) => string }>()
defineEmits<{ go: [key: string] }>()
const open = ref('')
const digits = (unit: string) => (unit === 'V' ? 2 : unit === 'A' ? 1 : 0)
</script>

<template>
  <div class="causes">
    <p class="first" data-diagnosis>{{ said(diagnosis.text) }}</p>
    <button v-if="diagnosis.next" type="button" class="link" @click="$emit('go', diagnosis.next)">
      Measure next: {{ nameOf(diagnosis.next) }}
    </button>
    <article v-for="cause in diagnosis.causes" :key="cause.key" :data-cause="cause.key">
      <button
        type="button"
        class="plain"
        :aria-expanded="open === cause.key"
        @click="open = open === cause.key ? '' : cause.key"
      >
        <span>{{ cause.words }}</span><b>{{ Math.round(cause.share * 100) }} %</b>
        <i
          aria-hidden="true"
          :style="{ width: `${Math.max(1, cause.share * 100)}%` }"
          :class="{ healthy: cause.key === 'healthy' }"
        ></i>
      </button>
      <div v-if="open === cause.key">
        <p v-if="cause.cure">{{ said(cause.cure) }}</p>
        <table>
          <thead>
            <tr>
              <th>Test</th>
              <th class="num">With this</th>
              <th class="num">Read</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in cause.explained" :key="row.test">
              <th scope="row">{{ nameOf(row.test) }}</th>
              <td class="num">{{ fixed(row.expected, digits(row.unit)) }} {{ row.unit }}</td>
              <td class="num">{{ fixed(row.read, digits(row.unit)) }} {{ row.unit }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </article>
  </div>
</template>

<style scoped>
.causes {
  display: grid;
  gap: 8px;
}
.first {
  font-size: var(--head);
  line-height: 1.35;
}
.plain {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 2px 8px;
  width: 100%;
  font-size: var(--text);
  min-height: 32px;
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
@media (max-width: 700px) {
  .plain,
  .link {
    min-height: 44px;
  }
}
</style>
