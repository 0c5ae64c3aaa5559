<script setup lang="ts">
/** A vehicle with something wrong: measure, mend, hand back; only what was measured stands on its line. */
import { useSessionStorage } from '@vueuse/core'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import AppBar from '../app/AppBar.vue'
import { useInstruments } from '../stages/prove/instruments'
import { money } from '../ui/format'
import { said } from '../ui/locale'
import CaseCures from './CaseCures.vue'
import CaseDone from './CaseDone.vue'
import CaseLine from './CaseLine.vue'
import CaseReview from './CaseReview.vue'
import CaseTests from './CaseTests.vue'
import { spent } from './names'
import { useCase, type Move } from './useCase'

defineProps<{ night: boolean }>()
defineEmits<{ night: [] }>()
const route = useRoute()
const level = computed(() => Number(route.params.level))
const number = computed(() => Number(route.params.number))
const { data, away, refetch, act, read, anew, review, trouble, busy } = useCase(level, number)
const own = useSessionStorage('olvask.practice.own', false)
const instruments = useInstruments()
/** On the rig the vehicle is told what was done to it. */
async function mend(move: Move): Promise<void> {
  await act(move)
  if (own.value && move.kind === 'mend' && trouble.value === '') await instruments.mend(move.what ?? '')
}
const taken = computed(
  () => new Map((data.value?.told ?? []).filter((item) => item.counts).map((item) => [item.step.what, item])),
)
</script>

<template>
  <div class="case">
    <AppBar where="Practice" :night="night" @night="$emit('night')" />
    <main :class="{ working: data && !data.over }">
      <p v-if="!data && !away" class="muted" role="status">Preparing the vehicle…</p>
      <p v-if="away || trouble" class="stop" role="alert">
        ■ {{ trouble || away }} <button v-if="away" type="button" class="link" @click="refetch()">Try again</button>
      </p>
      <template v-if="data">
        <header class="head">
          <h2>
            Case {{ data.name }} <span class="muted">· {{ data.vehicle }}</span>
          </h2>
          <p class="spent" data-spent>
            <b>{{ spent(data.minutes) }}</b> <span class="muted">and</span> <b>{{ money(data.price) }}</b>
            <span class="muted">in parts</span>
          </p>
        </header>
        <section class="panel story" aria-label="What is known">
          <p class="says">“{{ data.story }}”</p>
          <p v-if="data.shown.length" class="caution" data-shown>▲ The unit shows: {{ data.shown.join(', ') }}</p>
          <p v-else class="muted">The unit shows nothing that helps.</p>
          <ul class="muted facts">
            <li v-for="fact in data.facts" :key="fact">{{ said(fact) }}</li>
          </ul>
          <CaseLine :line="data.line" />
        </section>
        <CaseReview v-if="data.over" :review="review" :level="level" :number="number" @read="read" @anew="anew" />
        <template v-else>
          <CaseTests
            v-model:own="own"
            :tests="data.tests"
            :read="taken"
            :design="data.design"
            :busy="busy"
            @act="act"
          />
          <div class="right">
            <CaseCures :cures="data.cures" :busy="busy" @act="mend" />
            <CaseDone :told="data.told" />
          </div>
        </template>
        <CaseDone v-if="data.over" :told="data.told" />
      </template>
    </main>
  </div>
</template>

<style scoped>
main {
  display: grid;
  grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
  gap: 10px;
  padding: 10px 24px;
  align-items: start;
}
.head,
main > p {
  grid-column: 1 / -1;
}
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 16px;
  align-items: baseline;
}
h2 {
  font-size: var(--title);
}
.spent {
  font-size: var(--head);
}
.story {
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
  gap: 2px 20px;
  padding: 10px 14px;
}
.story > p,
.facts {
  grid-column: 1;
}
.story > :deep(figure) {
  grid-column: 2;
  grid-row: 1 / span 4;
}
.says {
  font-size: var(--title);
  line-height: 1.25;
}
.facts {
  margin: 0;
  padding-left: 18px;
  font-size: var(--text);
}
/* At the desk the list scrolls by itself, so that the line stays in sight. */
@media (min-width: 901px) {
  .case {
    height: 100dvh;
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
  }
  main {
    grid-template-rows: auto auto minmax(0, 1fr);
    overflow: auto;
    align-content: start;
  }
  .working {
    align-items: stretch;
    overflow: hidden;
  }
  .working > :deep([aria-label='Measure']) {
    overflow: auto;
    grid-row: 3;
  }
  .working > .right {
    overflow: auto;
  }
}
.right {
  display: grid;
  gap: 10px;
  align-content: start;
}
@media (max-width: 900px) {
  main,
  .story {
    grid-template-columns: minmax(0, 1fr);
    padding-left: 10px;
    padding-right: 10px;
  }
  .story > :deep(figure) {
    grid-column: 1;
    grid-row: auto;
  }
}
</style>
