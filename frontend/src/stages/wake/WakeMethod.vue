<script setup lang="ts">
/** Which way suits this job: every way judged with its reasons, the wiring of the one looked at. */
import Button from '../../ui/prime/button'
import { computed, ref } from 'vue'
import { answered, client } from '../../api/client'
import type { MethodAdvice } from '../../api/types'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import RemedyList from '../../job/RemedyList.vue'
import { useJob } from '../../job/store'
import TextField from '../../ui/TextField.vue'
import SignalDrawing from './SignalDrawing.vue'
import { tied } from '../../ui/tied'

const job = useJob()
const { data, pending, trouble } = useDerived('methods', (body, signal) =>
  answered(client.POST('/api/methods', { body, signal })),
)
const MARK: Record<MethodAdvice['verdict'], { glyph: string; tone: string; words: string }> = {
  recommended: { glyph: '✓', tone: 'good', words: 'recommended' },
  sound: { glyph: '✓', tone: 'good', words: 'sound' },
  cautious: { glyph: '▲', tone: 'caution', words: 'with care' },
  unsound: { glyph: '■', tone: 'stop', words: 'not as it stands' },
  unavailable: { glyph: '–', tone: 'note', words: 'cannot be had' },
}
const picked = ref<string | null>(null)
const shown = computed(
  () =>
    data.value?.methods.find((item) => item.key === picked.value) ??
    data.value?.methods.find((item) => item.chosen) ??
    data.value?.methods[0] ??
    null,
)
</script>

<template>
  <div class="method">
    <section class="panel" aria-label="Ways judged">
      <div class="bench-head">
        <h2>Which way</h2>
        <span class="aside">thresholds proposed anew for each</span>
      </div>
      <p v-if="data" class="advice" data-advice>{{ tied(data.text) }}</p>
      <AnswerState :pending="pending" :trouble="trouble" doing="Judging every way to start…" />
      <div v-if="data?.remedies.length" class="ways">
        <RemedyList :remedies="data.remedies" />
      </div>
      <button
        v-for="item in data?.methods ?? []"
        :key="item.key"
        type="button"
        class="plain row"
        :class="{ on: item.key === shown?.key }"
        :aria-pressed="item.key === shown?.key"
        :data-way="item.key"
        @click="picked = item.key"
      >
        <span :class="MARK[item.verdict].tone" aria-hidden="true">{{ MARK[item.verdict].glyph }}</span><span
          ><b>{{ item.label }}</b
          ><small :class="MARK[item.verdict].tone">{{ MARK[item.verdict].words }}</small></span
        ><span v-if="item.chosen" class="used">in use</span>
      </button>
    </section>
    <section v-if="shown" class="panel" :aria-label="shown.label">
      <div class="bench-head">
        <h2>{{ shown.label }}</h2>
        <span v-if="shown.chosen" class="aside">this is set</span
        ><Button
          v-else
          label="Use this"
          size="small"
          :severity="shown.verdict === 'unsound' || shown.verdict === 'unavailable' ? 'secondary' : undefined"
          :variant="shown.verdict === 'unsound' || shown.verdict === 'unavailable' ? 'outlined' : undefined"
          @click="job.change([...shown.take.changes])"
        />
      </div>
      <SignalDrawing v-for="wire in shown.wires" :key="wire.way" :wire="wire" class="wiring" />
      <TextField v-if="shown.wires.some((wire) => wire.plug !== '')" path="activation.plug_contact" />
      <p v-if="shown.wires.length > 1" class="small">
        <b>Both must say yes.</b> The unit charges only while every one of them is live.
      </p>
      <div class="reasons">
        <div>
          <h3>For</h3>
          <ul>
            <li v-for="reason in shown.speaks_for" :key="reason">{{ reason }}</li>
          </ul>
        </div>
        <div>
          <h3>Against</h3>
          <ul>
            <li v-for="reason in shown.speaks_against" :key="reason">{{ reason }}</li>
          </ul>
          <p v-if="!shown.speaks_against.length" class="muted small">nothing computed</p>
        </div>
      </div>
    </section>
  </div>
</template>

<style scoped>
.method {
  display: grid;
  grid-template-columns: 322px minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}
.advice {
  font-size: var(--lead);
  line-height: 1.35;
  padding: 0 0 7px;
  margin-bottom: 4px;
  border-bottom: 1px solid var(--hair);
}
.ways {
  display: flex;
  flex-direction: column;
  gap: 2px;
  margin-bottom: 6px;
  font-size: var(--text);
}
.row {
  display: grid;
  grid-template-columns: 16px 1fr auto;
  gap: 2px 6px;
  width: 100%;
  padding: 4px 6px;
  font-size: var(--text);
  border: 1px solid transparent;
  border-radius: 3px;
  line-height: 1.25;
}
.row small {
  margin-left: 6px;
  font-size: var(--text);
}
.row.on {
  background: var(--copper-wash);
  border-color: var(--copper);
}
.used {
  font-size: var(--small);
  color: var(--muted);
}
.reasons {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
  margin-top: 8px;
}
h3 {
  font-size: var(--text);
  margin: 0 0 2px;
  color: var(--muted);
}
ul {
  margin: 0;
  padding-left: 15px;
  font-size: var(--text);
  line-height: 1.35;
}
li::first-letter {
  text-transform: uppercase;
}
li + li {
  margin-top: 3px;
}
.wiring + .wiring {
  margin-top: 8px;
}
.small {
  font-size: var(--text);
  margin-top: 6px;
}
@media (max-width: 1100px) {
  .method,
  .reasons {
    grid-template-columns: minmax(0, 1fr);
  }
  .row {
    min-height: 44px;
    align-items: center;
  }
}
</style>
