<script setup lang="ts">
/** One step, large: what to do, what can hurt, what to see, the reading, and the button that says it is done. */
import { computed, ref, watch } from 'vue'
import type { NewEntry, Placed, StepState } from '../../api/types'
import SafetySign from '../../ui/SafetySign.vue'
import { dateClock, said } from '../../ui/locale'
import StepEvidence from './StepEvidence.vue'
import StepFinish from './StepFinish.vue'
import StepReasons from './StepReasons.vue'
import StepReading from './StepReading.vue'
import StepTimer from './StepTimer.vue'
import TwoAccounts from './TwoAccounts.vue'
import { useHalfTyped } from '../../ui/halfTyped'
import { tied } from '../../ui/tied'

const props = defineProps<{
  placed: Placed
  title: string
  group: string
  of: number
  state: StepState | undefined
  next: Placed | undefined
  numbers: Map<string, number>
  texts: Map<string, string>
  jobId: number
}>()
const emit = defineEmits<{
  note: [kind: NewEntry['kind'], more?: Partial<NewEntry>, picture?: Promise<string>]
  done: []
  go: [step: string]
}>()
const step = computed(() => props.placed.step)
const skipping = ref(false)
const reason = useHalfTyped(() => `skip.${String(props.jobId)}.${step.value.key}`, '')
watch(
  () => step.value.key,
  () => (skipping.value = false),
)
const signed = computed(() => {
  return props.state?.at ? dateClock(props.state.at) : ''
})
function finish(): void {
  emit('note', 'done')
  emit('done')
}
function skip(): void {
  if (reason.value.trim() === '') return
  emit('note', 'skip', { text: reason.value.trim() })
  reason.value = ''
  emit('done')
}
const STAGE: Record<string, string> = {
  settings: 'Open the sheet in Settings',
  bench: 'Open the bench test',
  prove: 'Open Prove',
}
</script>

<template>
  <article class="panel card" :data-step="step.key">
    <p class="where muted">{{ group }} · step {{ placed.number }} of {{ of }}</p>
    <h2 class="do">{{ tied(said(step.text)) }}</h2>
    <p class="why">{{ tied(said(step.why)) }}</p>
    <p v-if="step.number" class="number">{{ said(step.number) }}</p>
    <p v-if="step.tool" class="muted">In the hand: {{ step.tool }}</p>
    <div v-if="step.hazard" class="hazard">
      <SafetySign :sign="step.hazard.sign" />
      <p>{{ step.hazard.text }}</p>
    </div>
    <RouterLink v-if="step.leads_to === 'bench'" class="link lead" :to="`/job/${jobId}/build?page=bench`">{{
      STAGE.bench
    }}</RouterLink>
    <RouterLink v-else-if="step.leads_to" class="link lead" :to="`/job/${jobId}/${step.leads_to}`">{{
      STAGE[step.leads_to]
    }}</RouterLink>
    <StepTimer v-if="step.wait_s" :name="`${jobId}.${title}.${step.key}`" :seconds="step.wait_s" />
    <div v-if="step.see.length" class="see">
      <h3>See then</h3>
      <ul>
        <li v-for="item in step.see" :key="item">{{ said(item) }}</li>
      </ul>
    </div>
    <StepReading
      v-if="step.expected"
      :place="`${jobId}.${step.key}`"
      :expected="step.expected"
      :state="state"
      @note="(more) => $emit('note', 'reading', more)"
    />
    <StepEvidence
      :state="state"
      :job-id="jobId"
      :wanted="step.photo"
      :skipping="skipping"
      @photo="(picture) => $emit('note', 'photo', {}, picture)"
      @skip="skipping = !skipping"
    />
    <div v-if="skipping" class="skip">
      <label
        >Why it is skipped
        <input v-model="reason" type="text" maxlength="200" @keydown.enter="skip" />
      </label>
      <button type="button" class="plain" :disabled="reason.trim() === ''" @click="skip">Skip it</button>
    </div>
    <TwoAccounts :state="state" @settle="(kind, more) => $emit('note', kind, more)" />
    <StepReasons :placed="placed" :numbers="numbers" :texts="texts" @go="$emit('go', $event)" />
    <p v-if="state && state.state !== 'open'" class="stands" :class="state.state">
      {{ state.state === 'done' ? '✓ done' : '– skipped' }}{{ state.by.length ? ` by ${state.by.join(' and ')}` : ''
      }}{{ signed ? `, ${signed}` : '' }}{{ state.reason ? `: ${state.reason}` : '' }}
      <button type="button" class="link" @click="$emit('note', 'open')">open it again</button>
    </p>
    <StepFinish :step="step.key" :state="state" :next="next" @finish="finish" @go-on="$emit('done')" />
  </article>
</template>

<style scoped>
.card {
  padding: 14px 16px;
  display: grid;
  gap: 10px;
  align-content: start;
  overflow-wrap: anywhere;
}
.do {
  font-size: var(--title);
  line-height: 1.25;
}
.why {
  font-size: var(--head);
  line-height: 1.35;
}
.number {
  font-size: var(--title);
  font-weight: 600;
  color: var(--copper);
}
.hazard {
  display: flex;
  gap: 12px;
  align-items: center;
  border: 1px solid var(--ochre);
  border-radius: 3px;
  padding: 8px 10px;
  font-weight: 600;
}
h3 {
  font-size: var(--text);
  color: var(--muted);
  margin: 0 0 4px;
}
.see ul {
  list-style: none;
  margin: 0;
  padding: 8px 10px;
  border: 1px solid var(--hair);
  border-radius: 3px;
  background: var(--field);
  display: grid;
  gap: 3px;
}
.lead {
  justify-self: start;
  min-height: 32px;
  display: inline-flex;
  align-items: center;
}
.stands.done {
  color: var(--verdigris);
}
.stands.skipped {
  color: var(--ochre);
}
.skip {
  display: flex;
  gap: 8px;
  align-items: end;
}
.skip label {
  flex: 1;
  display: grid;
  gap: 2px;
}
.skip button {
  border: 1px solid var(--edge);
  border-radius: 3px;
  padding: 4px 12px;
}
input {
  min-height: 36px;
  background: var(--field);
  border: 1px solid var(--edge);
  border-radius: 3px;
  padding: 4px 8px;
}
@media (max-width: 700px) {
  .card {
    border: 0;
    background: transparent;
    padding: 4px 2px;
  }
  .do {
    font-size: 22px;
  }
  input,
  .stands .link {
    min-height: 44px;
  }
}
</style>
