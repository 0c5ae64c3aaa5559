<script setup lang="ts">
/** The same thresholds over a thousand vehicles that differ within tolerances. */
import { useQuery } from '@tanstack/vue-query'
import { useStorage } from '@vueuse/core'
import Button from '../../ui/prime/button'
import { computed, ref, watch } from 'vue'
import { answered, client } from '../../api/client'
import type { Cures, Tolerance } from '../../api/types'
import { useLong } from '../../api/long'
import { useJob } from '../../job/store'
import { fieldAt } from '../../ui/fields'
import TypedNumber from '../../ui/TypedNumber.vue'
import WorkProgress from '../../ui/WorkProgress.vue'
import ToleranceCauses from './ToleranceCauses.vue'
import ToleranceChart from './ToleranceChart.vue'
import { unitSaid } from '../../ui/units'

const job = useJob()
const KEYS = ['meter_v', 'threshold_v', 'alternator_v', 'rest_v', 'age', 'coldest_c', 'joint_mohm'] as const
const fields = computed(() => KEYS.map((key) => ({ key, ...fieldAt(job.design, `tolerance.${key}`) })))
type Key = (typeof KEYS)[number]
type Entries = Partial<Record<Key, number | string>> // what is no number for certain stays as it was typed
const own = useStorage<Entries>('olvask.tolerances', {})
const { data: usual } = useQuery({
  queryKey: ['tolerances'],
  queryFn: () => answered(client.GET('/api/tolerance')),
  staleTime: Infinity,
})
const wide = computed(
  () =>
    ({
      ...usual.value,
      ...Object.fromEntries(Object.entries(own.value).filter(([, value]) => value !== undefined)),
    }) as Entries,
)
const long = useLong<Tolerance>()
const { answer, done, stopped, errors } = long
const trying = useLong<Cures>()
const drivenFor = ref('') // the entries the shown answer belongs to
const now = computed(() => JSON.stringify([job.assessed, wide.value]))
const stale = computed(() => answer.value !== null && done.value === null && drivenFor.value !== now.value)
async function run(): Promise<void> {
  if (!job.design?.charger) return
  const body = { vehicles: 1000, ...wide.value, design: job.design }
  const asked = now.value
  trying.stop()
  trying.answer.value = null
  if (!(await long.ask('/api/tolerance', body))) return
  drivenFor.value = asked
  if ((answer.value?.any_fault ?? 0) > 0 && asked === now.value) void trying.ask('/api/tolerance/cures', body)
}
function take(cure: Cures['cures'][number]): void {
  job.change([...cure.remedy.changes])
  redrive.value = true
}
const redrive = ref(false)
watch(
  () => job.assessed,
  () => {
    if (redrive.value) {
      redrive.value = false
      void run()
    }
  },
)
watch(
  usual,
  (known) => {
    if (known) void run()
  },
  { immediate: true },
)
function set(key: Key, value: number | string | null): void {
  own.value = { ...own.value, [key]: value ?? undefined }
}
const marks = computed(() => (job.assessment?.wake.marks ?? []).filter((item) => item.acts && item.kind !== 'back'))
</script>

<template>
  <div class="tolerance">
    <section class="panel" aria-label="How far vehicles differ">
      <div class="bench-head">
        <h2>How far they differ</h2>
        <button type="button" class="link" @click="own = {}">defaults</button>
      </div>
      <ul v-if="errors.length" class="stop small errors" role="alert">
        <li v-for="wrong in errors" :key="wrong.path">{{ wrong.field }}: {{ wrong.message }}</li>
      </ul>
      <div v-for="field in fields" :key="field.key" class="pair">
        <span>{{ field.label }}</span><TypedNumber
          :model-value="wide[field.key] ?? null"
          :unit="field.unit ?? ''"
          :step="field.step"
          :label="`${field.label} ${unitSaid(field.unit ?? '')}`"
          :wrong="errors.some((wrong) => wrong.path.endsWith(field.key))"
          @update:model-value="set(field.key, $event)"
        /><span class="muted">{{ unitSaid(field.unit ?? '') }}</span>
      </div>
      <p class="muted small">Volts are per 12 V, two standard deviations. Age and joints only grow.</p>
    </section>
    <section class="panel" aria-label="A thousand vehicles">
      <div class="bench-head">
        <h2>A thousand vehicles, these settings</h2>
        <WorkProgress v-if="done !== null" :done="done" what="driving" @stop="long.stop()" /><span v-else class="aside"
          ><template v-if="stale">▲ changed since · </template><template v-if="stopped">stopped · </template
          ><Button
            label="Drive them again"
            size="small"
            severity="secondary"
            variant="outlined"
            :disabled="!job.design?.charger"
            @click="run"
        /></span>
      </div>
      <p v-if="!job.design?.charger" class="muted">Choose a unit in Match first.</p>
      <template v-else-if="answer">
        <p class="said" :class="answer.any_fault > 0.01 ? 'stop' : answer.any_fault > 0 ? 'caution' : 'good'" data-said>
          {{ answer.any_fault > 0 ? '■' : '✓' }} <span>{{ answer.text }}</span>
        </p>
        <ToleranceChart :report="answer" :marks="marks" />
      </template>
      <p v-else class="muted" role="status">
        {{
          long.trouble.value
            ? `▲ ${long.trouble.value} Drive them again.`
            : stopped
              ? 'Stopped before the end.'
              : 'Driving ten minutes a thousand times…'
        }}
      </p>
    </section>
    <ToleranceCauses v-if="answer" :answer="answer" :stale="stale" :trying="trying" @take="take" />
  </div>
</template>

<style scoped>
.tolerance {
  display: grid;
  grid-template-columns: 214px minmax(0, 1fr) 250px;
  gap: 10px;
  min-height: 0;
}
.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 66px 22px;
  gap: 5px;
  align-items: center;
  font-size: var(--text);
  margin-bottom: 3px;
}
.pair :deep(input) {
  width: 100%;
  text-align: right;
  padding: 2px 6px;
}
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin: 4px 0;
}
.errors {
  padding: 0;
  list-style: none;
}
.said {
  font-size: var(--lead);
  line-height: 1.35;
  margin-bottom: 6px;
  font-weight: 600;
}
.said span {
  font-weight: 400;
  color: var(--ink);
}
@media (max-width: 1100px) {
  .tolerance {
    grid-template-columns: minmax(0, 1fr);
  }
  .pair :deep(input) {
    min-height: 44px;
  }
}
</style>
