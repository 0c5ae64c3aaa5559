<script setup lang="ts">
/** Taking a reading: by one key from an instrument, typed, or a look answered. */
import { computed, ref, watch } from 'vue'
import { useEventListener } from '@vueuse/core'
import type { KeptInstrument, ProofRow } from '../../api/types'
import { useJob } from '../../job/store'
import { OPEN, readingOf } from '../../ui/reading'
import { unitSaid } from '../../ui/units'
import { useHalfTyped } from '../../ui/halfTyped'

const props = defineProps<{ row: ProofRow; by: KeptInstrument | undefined; busy: boolean; trouble: string }>()
const emit = defineEmits<{ read: [value: number]; measure: [] }>()
const job = useJob()
const text = useHalfTyped(() => `prove.${String(job.id)}.${props.row.test.key}`, '')
const told = ref('')
const unit = computed(() => unitSaid(props.row.test.unit ?? ''))
const open = computed(() => OPEN[props.row.test.unit ?? ''])
const answers = computed(() => props.row.test.answers ?? [])
watch(
  () => props.row.test.key,
  () => (told.value = ''),
)
function take(): void {
  if (text.value.trim() === '') return
  const usual = Number((props.row.expected ?? props.row.least ?? 1).toFixed(1))
  const value = readingOf(text.value, props.row.test.unit ?? '', usual)
  if (typeof value !== 'number') {
    told.value = value.told
    return
  }
  told.value = ''
  text.value = ''
  emit('read', value)
}
/** R reads, wherever no field has the keyboard. */
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const typing = event.target instanceof HTMLElement && event.target.matches('input, textarea, [role=combobox]')
  if (event.key.toLowerCase() !== 'r' || typing || event.ctrlKey || event.metaKey || event.altKey) return
  if (props.by === undefined || props.busy || answers.value.length > 0) return
  event.preventDefault()
  emit('measure')
})
</script>

<template>
  <div v-if="answers.length" class="answers" role="group" :aria-label="row.test.text">
    <button
      v-for="(answer, at) in answers"
      :key="answer"
      type="button"
      :data-answer="at"
      :aria-pressed="row.reading === at"
      @click="emit('read', at)"
    >
      {{ answer }}
    </button>
  </div>
  <template v-else>
    <button v-if="by" type="button" class="one" data-read :disabled="busy" @click="emit('measure')">
      <b>{{ busy ? 'Reading…' : 'Read' }}</b><small>{{ by.instrument.name }}, until it stands still · key R</small>
    </button>
    <div class="take">
      <input
        id="prove-reading"
        class="large"
        v-model="text"
        type="text"
        inputmode="decimal"
        autocomplete="off"
        :placeholder="by ? 'or type it' : ''"
        :aria-label="`${row.test.text}, ${unit}`"
        @keydown.enter="take"
        @change="take"
      />
      <span class="measure">{{ unit }}</span>
    </div>
    <button v-if="open !== undefined" type="button" class="over" data-over @click="emit('read', open)">
      OL, the meter is over its range
    </button>
    <p v-if="told || trouble" class="stop" role="alert">■ {{ told || trouble }}</p>
  </template>
</template>

<style scoped>
.answers {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(120px, 1fr));
  gap: 8px;
}
.answers button {
  min-height: 56px;
  border: 2px solid var(--edge);
  border-radius: 4px;
  background: var(--field);
  font-size: var(--head);
  font-weight: 600;
  cursor: pointer;
  padding: 6px 10px;
}
.answers [aria-pressed='true'] {
  border-color: var(--copper);
  background: var(--copper-wash);
}
.one {
  border: 0;
  border-radius: 4px;
  background: var(--copper);
  color: var(--panel);
  min-height: 60px;
  display: grid;
  place-content: center;
  text-align: center;
  cursor: pointer;
  font-size: var(--head);
}
.one:disabled {
  opacity: 0.7;
}
.take {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: center;
  border: 2px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  padding: 4px 12px;
}
.take:focus-within {
  border-color: var(--copper);
}
.over {
  min-height: 44px;
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  padding: 4px 12px;
  cursor: pointer;
}
input {
  border: 0;
  outline: none;
  background: transparent;
  font-size: var(--answer);
  font-weight: 600;
  min-height: 52px;
  min-width: 0;
}
input::placeholder {
  font-size: var(--head);
  font-weight: 400;
  color: var(--muted);
}
.measure {
  font-size: var(--title);
  color: var(--muted);
}
</style>
