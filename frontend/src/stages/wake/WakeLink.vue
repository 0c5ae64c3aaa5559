<script setup lang="ts">
/** What was there before: the decision, the relay it takes, every load by engine state before and after. */
import { computed } from 'vue'
import { answered, client } from '../../api/client'
import { joins } from '../../job/links'
import { freshId } from '../../job/pieces'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import { useDrive } from '../../job/drive'
import { useJob } from '../../job/store'
import { walkRadios } from '../../ui/radios'
import LinkLoads from './LinkLoads.vue'
import RelayPanel from './RelayPanel.vue'

const job = useJob()
const { running } = useDrive()
const { data, pending, trouble } = useDerived('old-link', (body, signal) =>
  answered(client.POST('/api/old-link', { body, signal })),
)
const CARRIES = [
  { key: 'meter', label: 'start battery meter' },
  { key: 'fridge', label: 'fridge feed while driving' },
  { key: 'upkeep', label: 'upkeep of the start battery' },
  { key: 'lamp', label: 'a charging signal' },
] as const
const at = computed(() => (job.design?.existing ?? []).findIndex(joins))
const carried = computed(() => [...(job.design?.existing?.[at.value]?.carries ?? [])])
function carry(key: (typeof CARRIES)[number]['key']): void {
  job.change([
    {
      path: `existing.${at.value}.carries`,
      value: carried.value.includes(key) ? carried.value.filter((item) => item !== key) : [...carried.value, key],
    },
  ])
}
</script>

<template>
  <div v-if="!data" class="panel none">
    <AnswerState :pending="pending" :trouble="trouble" doing="Looking at what was there…" />
  </div>
  <div v-else-if="!data.there" class="panel none">
    <h2>No old link in use</h2>
    <p class="muted">
      A relay or an integrated panel that joins the batteries {{ running }} is noted in Survey, under what is there
      already. With one there whose feed is not cut, this page decides what becomes of it.
    </p>
    <button
      type="button"
      class="link"
      @click="
        job.change([
          { path: 'existing', value: [...(job.design?.existing ?? []), { id: freshId('e'), kind: 'link', name: '' }] },
        ])
      "
    >
      Add the old link
    </button>
  </div>
  <div v-else class="old">
    <AnswerState class="across" :pending="false" :trouble="trouble" doing="" />
    <section class="panel" aria-label="Decision">
      <div class="bench-head"><h2>What becomes of it</h2></div>
      <p class="label">{{ data.there }}. Besides charging it carries</p>
      <div class="carries">
        <button
          v-for="item in CARRIES"
          :key="item.key"
          type="button"
          class="plain chip"
          role="checkbox"
          :aria-checked="carried.includes(item.key)"
          :class="{ on: carried.includes(item.key) }"
          :data-carries="item.key"
          @click="carry(item.key)"
        >
          {{ carried.includes(item.key) ? '✓ ' : '' }}{{ item.label }}
        </button>
      </div>
      <div role="radiogroup" aria-label="What becomes of it" @keydown="walkRadios">
        <button
          v-for="(choice, row) in data.choices"
          :key="choice.key"
          type="button"
          class="plain choice"
          role="radio"
          :aria-checked="data.decision === choice.key"
          :tabindex="data.decision === choice.key || (!data.decision && row === 0) ? 0 : -1"
          :class="{ on: data.decision === choice.key }"
          :data-decision="choice.key"
          @click="job.change([...choice.take.changes])"
        >
          <b>{{ choice.label }}</b> <em v-if="choice.recommended" class="good">✓ recommended</em
          ><small>{{ choice.reason }}</small>
        </button>
      </div>
      <p v-if="!data.decision" class="caution small">▲ Not decided yet: press one.</p>
    </section>
    <RelayPanel v-if="data.relay" :relay="data.relay" />
    <LinkLoads class="loads" :link="data" />
  </div>
</template>

<style scoped>
.none {
  padding: 16px 20px;
  display: grid;
  gap: 8px;
  align-content: start;
  max-width: 640px;
}
.old {
  display: grid;
  grid-template-columns: 226px 262px minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}
.loads {
  grid-column-end: -1;
}
.old > section:nth-child(2):last-child {
  grid-column: 2 / -1;
}
.label {
  font-size: var(--text);
  color: var(--muted);
}
.carries {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 3px 0 8px;
}
.chip {
  border: 1px solid var(--edge);
  border-radius: 3px;
  padding: 2px 7px;
  font-size: var(--text);
}
.chip.on {
  border-color: var(--copper);
  background: var(--copper-wash);
}
.choice {
  display: block;
  width: 100%;
  padding: 5px 7px;
  border: 1px solid var(--hair);
  border-radius: 3px;
  font-size: var(--text);
  line-height: 1.3;
  margin-bottom: 4px;
}
.choice.on {
  border-color: var(--copper);
  background: var(--copper-wash);
}
.choice small {
  display: block;
  color: var(--muted);
  font-size: var(--text);
}
.choice em {
  font-style: normal;
  font-size: var(--text);
}
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin-top: 5px;
}
@media (max-width: 1100px) {
  .old {
    grid-template-columns: minmax(0, 1fr);
  }
  .old > section:nth-child(n) {
    grid-column: 1 / -1;
    overflow: auto hidden;
  }
  .chip,
  .choice {
    min-height: 44px;
  }
}
</style>
