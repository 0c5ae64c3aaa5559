<script setup lang="ts">
/** The sheet on the left; on the right what each source does to the battery, and all of them in a table. */
import { useSessionStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import { CHEMISTRY } from '../../charts/line/words'
import { useJob } from '../../job/store'
import AnswerState from '../../ui/AnswerState.vue'
import { intoSight } from '../../ui/intoSight'
import { entered, said } from '../../ui/locale'
import ChargePicture from './ChargePicture.vue'
import KeySheet from './KeySheet.vue'
import SourceRows from './SourceRows.vue'
import { quantity } from '../../ui/format'

const job = useJob()
const from = useSessionStorage('olvask.audit.from', 40)
const celsius = useSessionStorage('olvask.audit.celsius', 20)
const device = ref('')
const sheet = useDerived(
  'sheet',
  (design, signal) => answered(client.POST('/api/settings/sheet', { body: { device: device.value, design }, signal })),
  { more: () => device.value },
)
const devices = computed(() => {
  const others = sheet.data.value?.devices ?? []
  return others.length ? [{ place: '', name: job.design?.charger?.name ?? 'the unit' }, ...others] : []
})
const audit = useDerived(
  'audit',
  (design, signal) =>
    answered(
      client.POST('/api/settings/audit', {
        body: { charge_from: from.value / 100, celsius: celsius.value, design },
        signal,
      }),
    ),
  { more: () => [from.value, celsius.value], pause_ms: 120 },
)
const picked = ref('')
const chosen = computed({
  get: () => {
    const all = audit.data.value?.sources ?? []
    if (all.some((item) => item.key === picked.value)) return picked.value
    return (all.find((item) => item.verdict !== 'keep') ?? all[0])?.key ?? ''
  },
  set: (key) => {
    picked.value = key
  },
})
const what = computed(() => {
  const battery = job.design?.auxiliary
  return `${entered(battery?.capacity_ah ?? 0)} Ah ${CHEMISTRY[battery?.chemistry ?? ''] ?? battery?.chemistry ?? ''}`
})
const verdict = computed(() => {
  const all = audit.data.value?.sources ?? []
  if (all.length === 0) return { tone: 'muted', mark: '○' }
  return all.every((item) => item.verdict === 'keep') ? { tone: 'good', mark: '✓' } : { tone: 'caution', mark: '▲' }
})
</script>

<template>
  <div class="settings">
    <div v-if="sheet.data.value?.sheet" class="left">
      <div v-if="devices.length" class="devices" role="group" aria-label="Device to key into">
        <button
          v-for="item in devices"
          :key="item.place"
          type="button"
          class="plain"
          :aria-pressed="item.place === device"
          @click="device = item.place"
        >
          {{ item.name }}
        </button>
      </div>
      <KeySheet
        :sheet="sheet.data.value.sheet"
        :name="devices.find((item) => item.place === device)?.name ?? 'the unit'"
        :place="device"
        :step="sheet.data.value.step"
      />
    </div>
    <section v-else class="panel" aria-label="To key into the unit">
      <div class="bench-head"><h2>To key into the unit</h2></div>
      <AnswerState :pending="sheet.pending.value" :trouble="sheet.trouble.value" doing="Reading its menu…" />
      <p v-if="sheet.data.value && !sheet.data.value.sheet" class="muted">Choose a unit in Match first.</p>
    </section>
    <div class="right">
      <section class="panel" data-charge aria-label="What each source does to this battery">
        <div class="bench-head">
          <h2>What each source does to this battery</h2>
          <span class="aside begin"
            >{{ what }} from
            <select v-model.number="from" aria-label="From a charge of, %">
              <option v-for="share in [10, 20, 40, 60, 80]" :key="share" :value="share">{{ share }}&nbsp;%</option>
            </select>
            at
            <select v-model.number="celsius" aria-label="Battery and air at">
              <option v-for="degrees in [-10, 0, 10, 20, 30, 40]" :key="degrees" :value="degrees">
                {{ quantity(degrees, '°C') }}
              </option>
            </select></span
          >
        </div>
        <ChargePicture v-if="audit.data.value?.sources.length" :audit="audit.data.value" :chosen="chosen" />
        <AnswerState :pending="audit.pending.value" :trouble="audit.trouble.value" doing="Charging it…" />
      </section>
      <section v-if="audit.data.value" class="panel" aria-label="All that charges">
        <div class="bench-head">
          <h2>All that charges</h2>
        </div>
        <p class="verdict" data-audit>
          <b :class="verdict.tone">{{ verdict.mark }} {{ said(audit.data.value.text) }}</b>
        </p>
        <SourceRows v-model="chosen" :audit="audit.data.value" @update:model-value="intoSight('[data-charge]')" />
      </section>
    </div>
  </div>
</template>

<style scoped>
.settings {
  display: grid;
  grid-template-columns: minmax(360px, 0.8fr) minmax(0, 1.15fr);
  gap: 10px;
  align-items: start;
}
.left {
  display: grid;
  gap: 6px;
  min-width: 0;
}
.devices {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.devices button {
  min-height: 28px;
  padding: 2px 10px;
  border: 1px solid var(--hair);
  border-radius: 3px;
}
.devices button[aria-pressed='true'] {
  background: var(--copper-wash);
  border-color: var(--copper);
  font-weight: 600;
}
.right {
  display: grid;
  gap: 10px;
  min-width: 0;
}
.begin select {
  font: inherit;
  min-height: 24px;
  color: var(--ink);
  background: var(--field);
  border: 1px solid var(--edge);
  border-radius: 3px;
}
.verdict {
  margin: 0 0 4px;
}
@media screen and (min-width: 1101px) {
  .settings {
    align-items: stretch;
  }
  .left,
  .right {
    position: relative;
    min-height: 0;
    overflow: auto;
    align-content: start;
    grid-auto-rows: max-content;
    padding: 4px; /* rings are drawn there */
    margin: -4px;
  }
}
@media (max-width: 1100px) {
  .settings {
    grid-template-columns: minmax(0, 1fr);
  }
  .begin select,
  .devices button {
    min-height: 44px;
  }
}
</style>
