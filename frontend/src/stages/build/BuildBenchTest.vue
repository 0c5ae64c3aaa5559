<script setup lang="ts">
/** The bench test: the volts of the supply as a staircase, and the same steps one at a time. */
import { computed } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import { fixed } from '../../ui/locale'
import BenchStairs from './BenchStairs.vue'
import BuildSteps from './BuildSteps.vue'

const { data, pending, trouble } = useDerived('bench', (body, signal) =>
  answered(client.POST('/api/build/bench', { body, signal })),
)
const test = computed(() => data.value?.test ?? null)
const file = computed(() => `data:text/plain;charset=utf-8,${encodeURIComponent(test.value?.scpi ?? '')}`)
</script>

<template>
  <div class="bench-test">
    <AnswerState :pending="pending" :trouble="trouble" doing="Walking through it…" />
    <p v-if="data && !test" class="panel muted none">Choose a unit and a way to start it first.</p>
    <template v-if="test">
      <section class="panel stairs" aria-label="The supply's volts">
        <div class="bench-head">
          <h2>The supply's volts, and what the unit does</h2>
          <span class="aside"
            >{{ fixed(test.total_s / 60, 0) }}&nbsp;min ·
            <a :href="file" download="bench-test.scpi.txt">as SCPI, for a supply</a></span
          >
        </div>
        <BenchStairs :test="test" />
      </section>
      <BuildSteps :procedure="test.procedure" />
    </template>
  </div>
</template>

<style scoped>
.bench-test {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
}
.bench-test > :last-child {
  flex: 1;
}
.none {
  padding: 14px;
}
.stairs {
  flex: none;
}
.aside a {
  display: inline-flex;
  align-items: center;
  min-height: 24px;
}
@media (max-width: 700px) {
  .aside a {
    min-height: 44px;
  }
}
</style>
