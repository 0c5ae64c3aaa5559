<script lang="ts">
export type Side = 'legs' | 'causes' | 'diagram'
</script>

<script setup lang="ts">
/** What the readings say: each leg beside its design, the causes that explain them, or the diagram; and what is kept. */
import { useSessionStorage } from '@vueuse/core'
import { ref } from 'vue'
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import type { Proof, Symptom } from '../../api/types'
import { useJob } from '../../job/store'
import AnswerState from '../../ui/AnswerState.vue'
import { useBuildLog } from '../build/buildLog'
import CausesPanel from './CausesPanel.vue'
import LegsPicture from './LegsPicture.vue'
import ProveDiagram from './ProveDiagram.vue'
import ProveKept from './ProveKept.vue'
import ProveOffers from './ProveOffers.vue'
import type { useInstruments } from './instruments'
import { CURE, PROVE } from './readings'

const props = defineProps<{
  proof: Proof
  conductors: string[]
  readings: { test: string; value: number }[]
  any: boolean
  cures: string[]
  instruments: ReturnType<typeof useInstruments>
}>()
const emit = defineEmits<{ go: [key: string]; instruments: [] }>()
const side = defineModel<Side>('side', { required: true })
const TITLE: Record<Side, string> = {
  legs: 'Designed and measured',
  causes: 'What explains it',
  diagram: 'On the diagram',
}
const job = useJob()
const log = useBuildLog()
const symptoms = useSessionStorage<Symptom[]>(() => `olvask.prove.symptoms.${String(job.id)}`, [])
const reports = useSessionStorage<string[]>(() => `olvask.prove.reports.${String(job.id)}`, [])
const lately = ref('')
async function cured(words: string): Promise<void> {
  log.note(PROVE, CURE, 'note', { text: `Mended: ${words}`.slice(0, 400) })
  symptoms.value = []
  reports.value = []
  const told = await props.instruments.cure()
  lately.value = `Noted: ${words}. ${told ? `The rig says: ${told}. ` : ''}Prove again what it touched.`
}
const diagnosis = useDerived(
  'causes',
  (design, signal) =>
    answered(
      client.POST('/api/prove/causes', {
        body: { design, readings: props.readings, symptoms: symptoms.value, reports: reports.value },
        signal,
      }),
    ),
  { more: () => [props.readings, symptoms.value, reports.value], wanted: () => side.value === 'causes' },
)
</script>

<template>
  <section class="panel" data-says aria-label="What the readings say">
    <div class="bench-head">
      <h2>{{ TITLE[side] }}</h2>
      <button type="button" class="link" data-side @click="side = side === 'legs' ? 'causes' : 'legs'">
        {{ side === 'legs' ? 'find a fault' : 'mΩ of each leg' }}
      </button>
    </div>
    <LegsPicture v-if="side === 'legs'" :legs="proof.legs" />
    <ProveDiagram v-else-if="side === 'diagram'" :conductors="conductors" />
    <template v-else>
      <CausesPanel
        v-model:symptoms="symptoms"
        v-model:reports="reports"
        :diagnosis="diagnosis.data.value"
        :lately="lately"
        @go="emit('go', $event)"
        @cured="cured"
      />
      <AnswerState :pending="diagnosis.pending.value" :trouble="diagnosis.trouble.value" doing="Trying each fault…" />
    </template>
    <ProveOffers v-if="proof.offers.length" :offers="proof.offers" />
    <ProveKept
      :job-id="job.id"
      :any="any"
      :instruments="instruments.all.value.length > 0"
      :cures="cures"
      @instruments="emit('instruments')"
    />
    <p class="muted small">
      A band holds 95 of 100 healthy vehicles: it follows from what was read so far, the meter, and what is not known.
    </p>
  </section>
</template>

<style scoped>
.small {
  font-size: var(--text);
  margin-top: 8px;
}
@media (max-width: 700px) {
  .bench-head .link {
    min-height: 44px;
    display: inline-flex;
    align-items: center;
  }
}
</style>
