<script setup lang="ts">
/** The same thresholds over a thousand vehicles that differ within tolerances. */
import { useQuery } from '@tanstack/vue-query'
import { useStorage } from '@vueuse/core'
import InputNumber from '../../ui/prime/inputnumber'
import Button from '../../ui/prime/button'
import { computed, ref, watch } from 'vue'
import { answered, client } from '../../api/client'
import type { Cures, Tolerance } from '../../api/types'
import { useLong } from '../../api/long'
import { useJob } from '../../job/store'
import { fieldOf } from '../../ui/fields'
import WorkProgress from '../../ui/WorkProgress.vue'
import ToleranceChart from './ToleranceChart.vue'

const job = useJob()
const KEYS = ['meter_v', 'threshold_v', 'alternator_v', 'rest_v', 'age', 'coldest_c', 'joint_mohm'] as const
const FIELDS = KEYS.map((key) => ({ key, ...fieldOf(`tolerance.${key}`) }))
type Key = (typeof KEYS)[number]
const own = useStorage<Partial<Record<Key, number>>>('olvask.tolerances', {})
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
    }) as Partial<Record<Key, number>>,
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
function set(key: Key, value: number | null): void {
  own.value = { ...own.value, [key]: value ?? undefined }
}
const percent = (share: number) =>
  share === 0 ? '0 %' : share < 0.01 ? `${(share * 100).toFixed(1)} %` : `${Math.round(share * 100)} %`
const shares = computed(() => {
  const at = answer.value
  return at
    ? [
        { label: 'fail to start', share: at.fail_to_start },
        { label: 'hunt, or stop under their own load', share: at.hunt },
        { label: 'drain the start battery', share: at.drain },
      ]
    : []
})
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
      <div v-for="field in FIELDS" :key="field.key" class="pair">
        <span>{{ field.label }}</span><InputNumber
          :model-value="wide[field.key]"
          size="small"
          :min-fraction-digits="0"
          :max-fraction-digits="2"
          :step="field.step"
          :min="field.key === 'coldest_c' ? -50 : 0"
          :aria-label="`${field.label} ${field.unit}`"
          @update:model-value="set(field.key, $event)"
        /><span class="muted">{{ field.unit }}</span>
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
        {{ stopped ? 'Stopped before the end.' : 'Driving ten minutes a thousand times…' }}
      </p>
    </section>
    <section v-if="answer" class="panel" aria-label="What fails and why">
      <div class="bench-head"><h2>Of all vehicles</h2></div>
      <div v-for="item in shares" :key="item.label" class="share">
        <span>{{ item.label }}</span><b :class="item.share > 0 ? 'stop' : 'good'">{{ percent(item.share) }}</b
        ><span class="track"><span class="fill" :style="{ width: `${item.share * 100}%` }" /></span>
      </div>
      <template v-if="answer.any_fault > 0 && !stale">
        <div class="bench-head second">
          <h2>What would cut it</h2>
          <span class="aside">then at fault</span>
        </div>
        <WorkProgress
          v-if="trying.done.value !== null"
          :done="trying.done.value"
          what="trying changes"
          @stop="trying.stop()"
        />
        <p v-else-if="trying.answer.value && !trying.answer.value.cures.length" class="muted small">
          No single change tried cuts it by a fifth. Findings come first.
        </p>
        <div v-for="cure in trying.answer.value?.cures ?? []" :key="cure.remedy.label" class="cure" data-cure>
          <button type="button" class="link" @click="take(cure)">{{ cure.remedy.label }}</button><b>{{
            percent(cure.any_fault)
          }}</b>
        </div>
      </template>
      <div class="bench-head second">
        <h2>What matters most</h2>
        <span class="aside">cured if exact</span>
      </div>
      <p v-if="answer.widened > 1 && answer.widened_fault > 0" class="muted small">
        None fails as it is; found with tolerances {{ answer.widened }} times as wide, where
        {{ percent(answer.widened_fault) }} would.
      </p>
      <p v-if="answer.any_fault === 0 && answer.widened_fault === 0" class="muted small">
        Nothing fails, so nothing stands out.
      </p>
      <div
        v-for="item in answer.any_fault > 0 || answer.widened_fault > 0 ? answer.matters : []"
        :key="item.key"
        class="share"
        :data-matters="item.key"
      >
        <span
          >{{ item.label }} <small class="muted">{{ item.spread }}</small></span
        ><b>{{ item.cures === null ? '–' : percent(item.cures ?? 0) }}</b
        ><span class="track"><span class="fill copper" :style="{ width: `${(item.cures ?? 0) * 100}%` }" /></span>
      </div>
    </section>
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
.share {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 1px 8px;
  font-size: var(--text);
  line-height: 1.25;
  margin-bottom: 6px;
}
.share small {
  display: block;
  font-size: var(--small);
}
.track {
  grid-column: 1 / -1;
  height: 6px;
  background: var(--field);
  border: 1px solid var(--hair);
}
.fill {
  display: block;
  height: 100%;
  background: var(--madder);
}
.fill.copper {
  background: var(--copper);
}
.cure {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  font-size: var(--text);
  line-height: 1.3;
  margin-bottom: 3px;
}
.cure .link {
  text-align: left;
}
.second {
  margin-top: 10px;
  margin-bottom: 3px;
}
.second h2,
.second .aside {
  white-space: nowrap;
}
@media (max-width: 1000px) {
  .tolerance {
    grid-template-columns: minmax(0, 1fr);
  }
  .pair :deep(input) {
    min-height: 36px;
  }
}
</style>
