<script setup lang="ts">
/** What somebody has done, newest first. */
import type { components } from '../api/schema.gen'
import { money } from '../ui/format'
import { dateClock } from '../ui/locale'
import { addressOf, spent } from './names'

defineProps<{ attempts: readonly components['schemas']['AttemptOut'][]; by: string }>()
const MOST = 30
</script>

<template>
  <section class="panel" aria-label="Done">
    <div class="bench-head">
      <h2>Done</h2>
      <a v-if="attempts.length" class="aside" :href="`/api/practice/attempts.csv?by=${encodeURIComponent(by)}`">CSV</a>
    </div>
    <p v-if="by === ''" class="muted">Give your initials above, and what you do is kept.</p>
    <p v-else-if="attempts.length === 0" class="muted">Nothing yet.</p>
    <table v-else class="rows">
      <thead>
        <tr>
          <th scope="col">Exercise</th>
          <th scope="col">Solved</th>
          <th scope="col">Score</th>
          <th scope="col">Spent</th>
          <th scope="col">When</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="item in attempts.slice(0, MOST)" :key="item.at + item.name" :data-attempt="item.name">
          <th scope="row">
            <RouterLink :to="addressOf(item.name)">{{ item.name }}</RouterLink>
          </th>
          <td :class="item.right ? 'good' : 'stop'">{{ item.right ? '✓ yes' : '■ no' }}</td>
          <td>{{ item.score }}</td>
          <td>{{ item.minutes ? `${spent(item.minutes)}${item.price ? `, ${money(item.price)}` : ''}` : '' }}</td>
          <td class="muted">{{ dateClock(item.at) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.panel {
  padding: 10px 14px;
}
tbody th a {
  display: inline-block;
  line-height: 24px;
}
</style>
