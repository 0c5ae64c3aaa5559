<script setup lang="ts">
/** The reading of a step: a big entry, where it should lie, and whether it does. */
import { computed, ref, watch } from 'vue'
import type { NewEntry, Step, StepState } from '../../api/types'
import { entered, said } from '../../ui/locale'
import { measured } from '../../ui/format'
import { OPEN, readingOf } from '../../ui/reading'
import { standing, unitSaid } from '../../ui/units'
import { useHalfTyped } from '../../ui/halfTyped'

const props = defineProps<{ place: string; expected: NonNullable<Step['expected']>; state: StepState | undefined }>()
const emit = defineEmits<{ note: [more: Partial<NewEntry>] }>()
const readings = computed(() => props.state?.entries.filter((entry) => entry.kind === 'reading') ?? [])
const last = computed(() => readings.value.at(-1))
const noted = computed(() => {
  const value = last.value?.value ?? 0
  return props.expected.unit === 'Ω' ? measured(value, 'Ω', 1) : `${shown(value)} ${unit.value}`
})
const text = useHalfTyped(() => `step.${props.place}`, '')
const told = ref('')
watch(
  () => props.place,
  () => (told.value = ''),
)
const unit = computed(() => unitSaid(props.expected.unit))
const shown = (value: number) => entered(standing(value, props.expected.unit))
const band = computed(() => {
  const { least, most } = props.expected
  if (least === null) return most === null ? '' : `${shown(most)} ${unit.value} or less`
  return most === null ? `${shown(least)} ${unit.value} or more` : `${shown(least)} – ${shown(most)} ${unit.value}`
})
const within = (value: number) =>
  (props.expected.least === null || value >= props.expected.least) &&
  (props.expected.most === null || value <= props.expected.most)
function take(): void {
  if (text.value.trim() === '') return
  const value = readingOf(text.value, props.expected.unit, props.expected.least ?? 1)
  if (typeof value !== 'number') {
    told.value = `${props.expected.what}: ${value.told}`
    return
  }
  told.value = ''
  text.value = ''
  note(value)
}
const open = computed(() => OPEN[props.expected.unit])
const note = (value: number) => emit('note', { value, unit: props.expected.unit })
</script>

<template>
  <div class="reading">
    <h3>
      <label for="step-reading">{{ said(expected.what) }}</label> <span class="good">{{ band }}</span>
    </h3>
    <div class="entry">
      <input
        id="step-reading"
        class="large"
        v-model="text"
        type="text"
        inputmode="decimal"
        autocomplete="off"
        :placeholder="last ? shown(last.value ?? 0) : ''"
        @change="take"
        @keydown.enter="take"
      />
      <span class="measure">{{ unit }}</span>
      <button type="button" class="plain" :disabled="text.trim() === ''" @click="take">Note it</button>
    </div>
    <button v-if="open !== undefined" type="button" class="plain" data-over @click="note(open)">
      OL, the meter is over its range
    </button>
    <p v-if="told" class="stop" role="alert">■ {{ told }}</p>
    <p v-if="last && last.value !== null" :class="within(last.value) ? 'good' : 'stop'" role="status">
      {{ within(last.value) ? '✓ as it should be' : '■ not as it should be' }}: {{ noted }}
      <span class="muted">{{ readings.length > 1 ? `· ${readings.length} readings kept` : '' }}</span>
    </p>
    <p class="muted">{{ said(expected.why) }}</p>
  </div>
</template>

<style scoped>
.reading {
  display: grid;
  gap: 4px;
}
h3 {
  display: flex;
  justify-content: space-between;
  font-size: var(--text);
  margin: 0;
}
.entry {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 8px;
  align-items: center;
  border: 2px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  padding: 4px 10px;
}
.entry:focus-within {
  border-color: var(--copper);
}
input {
  border: 0;
  background: transparent;
  font-size: var(--answer);
  font-weight: 600;
  min-height: 48px;
  min-width: 0;
  outline: none;
}
.measure {
  color: var(--muted);
  font-size: var(--title);
}
button {
  min-height: 44px;
  padding: 0 10px;
}
</style>
