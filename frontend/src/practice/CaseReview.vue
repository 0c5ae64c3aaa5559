<script setup lang="ts">
/** The whole course against the best next step at each of its steps. */
import { onMounted } from 'vue'
import { money } from '../ui/format'
import { said } from '../ui/locale'
import { spent } from './names'
import type { Review } from './useCase'

const props = defineProps<{ review: Review | null; level: number; number: number }>()
const emit = defineEmits<{ read: []; anew: [] }>()
onMounted(() => {
  if (props.review === null) emit('read')
})
const euros = (price: number) => (price ? ` and ${money(price)}` : '')
</script>

<template>
  <section class="panel" aria-label="How it went" data-review>
    <p v-if="!review" class="muted" role="status">Reading the course…</p>
    <template v-else>
      <p class="score" :class="review.solved ? 'good' : 'stop'" role="status">
        <b data-score>{{ review.score }}</b> of 100 ·
        {{ review.solved ? '✓ nothing is wrong any more' : '■ it came back: something is still wrong' }}
      </p>
      <p>
        It was: <b>{{ review.wrong.join('; and ') }}</b>.
      </p>
      <p class="muted">
        You took {{ spent(review.minutes) }}{{ euros(review.price) }}; the best course here takes
        {{ spent(review.best_minutes) }}{{ euros(review.best_price) }}.
      </p>
      <table class="rows">
        <thead>
          <tr>
            <th scope="col">You did</th>
            <th scope="col">Best next, and why</th>
            <th scope="col">So</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(step, at) in review.steps" :key="at">
            <th scope="row">{{ said(step.words) }}</th>
            <td>
              <template v-if="step.told === 1">the same</template><b v-else>{{ said(step.best) }}</b>
              <small class="muted">{{ said(step.why) }}</small>
            </td>
            <td>{{ step.text }}</td>
          </tr>
        </tbody>
      </table>
      <details>
        <summary>The best course here</summary>
        <ol>
          <li v-for="(words, at) in review.best" :key="at">{{ said(words) }}</li>
        </ol>
      </details>
      <p class="keys">
        <RouterLink :to="`/practice/case/${level}-${number + 1}`" data-next>Next vehicle</RouterLink>
        <button type="button" class="link" @click="emit('anew')">this one once more</button>
        <RouterLink to="/practice">all exercises</RouterLink>
      </p>
    </template>
  </section>
</template>

<style scoped>
.panel {
  grid-column: 1 / -1;
  padding: 10px 14px;
  display: grid;
  gap: 6px;
}
.score {
  font-size: var(--title);
}
.score b {
  font-size: var(--answer);
}
td small {
  display: block;
}
.keys {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  line-height: 32px;
}
summary {
  cursor: pointer;
  line-height: 28px;
}
</style>
