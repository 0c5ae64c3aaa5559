<script setup lang="ts">
/** What explains the readings: told and shown first, causes as bars, what to measure next, and the cure. */
import { computed, ref } from 'vue'
import type { Diagnosis, Symptom } from '../../api/types'
import { useJob } from '../../job/store'
import { fieldOf } from '../../ui/fields'
import { said } from '../../ui/locale'
import CauseRow from './CauseRow.vue'
import ChipRow from './ChipRow.vue'

defineProps<{ diagnosis: Diagnosis | undefined; lately: string }>()
const symptoms = defineModel<Symptom[]>('symptoms', { required: true })
const reports = defineModel<string[]>('reports', { required: true })
defineEmits<{ go: [key: string]; cured: [words: string] }>()
const job = useJob()
const open = ref('')
const field = fieldOf('causes.symptoms')
const told = computed(() => (field.choices ?? []).map((item) => ({ key: String(item.value), label: item.label })))
const shown = computed(() => {
  const behaviour = job.design?.charger?.behaviour
  return [...(behaviour?.off_reasons ?? []), ...(behaviour?.lamps ?? [])].map((text) => ({ key: text, label: text }))
})
</script>

<template>
  <div class="causes">
    <p v-if="lately" class="good" role="status" data-cured>✓ {{ lately }}</p>
    <ChipRow v-model="symptoms as string[]" :label="field.label" :chips="told" />
    <ChipRow v-if="shown.length" v-model="reports" :label="fieldOf('causes.reports').label" :chips="shown" />
    <template v-if="diagnosis">
      <p class="first" data-diagnosis>{{ said(diagnosis.text) }}</p>
      <p v-if="diagnosis.apart" class="muted" data-apart>What would tell them apart: {{ said(diagnosis.apart) }}</p>
      <button
        v-if="diagnosis.next"
        type="button"
        class="next"
        :data-next="diagnosis.next"
        @click="$emit('go', diagnosis.next)"
      >
        <b>Measure next</b><small>{{ said(diagnosis.next_text) }}</small>
      </button>
      <CauseRow
        v-for="cause in diagnosis.causes"
        :key="cause.key"
        :cause="cause"
        :open="open === cause.key"
        @toggle="open = open === cause.key ? '' : cause.key"
        @cured="$emit('cured', cause.words)"
      />
    </template>
  </div>
</template>

<style scoped>
.causes {
  display: grid;
  gap: 8px;
}
.first {
  font-size: var(--head);
  line-height: 1.35;
}
.next {
  border: 0;
  border-radius: 4px;
  background: var(--teal);
  color: var(--panel);
  padding: 8px 12px;
  display: grid;
  gap: 2px;
  text-align: left;
  cursor: pointer;
  min-height: 44px;
}
.next small {
  line-height: 1.3;
}
</style>
