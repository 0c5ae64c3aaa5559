<script setup lang="ts">
/** A reading taken by oneself, on a bench or the rig: by an instrument of the workshop, or typed. */
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Design, ProofRow } from '../api/types'
import { useInstruments } from '../stages/prove/instruments'
import { said } from '../ui/locale'
import { readingOf } from '../ui/reading'
import { unitSaid } from '../ui/units'
import type { CaseState } from './useCase'
import { useHalfTyped } from '../ui/halfTyped'

const props = defineProps<{ test: CaseState['tests'][number]; design: Design; busy: boolean }>()
const emit = defineEmits<{ read: [value: number, test: string]; leave: [] }>()
const instruments = useInstruments()
const by = computed(() => instruments.reader({ test: { unit: props.test.unit } } as ProofRow))
const route = useRoute()
const text = useHalfTyped(() => `own.${route.path}.${props.test.key}`, '')
const told = ref('')
const USUAL: Record<string, number> = { V: 13.2, A: 20, mV: 50, mA: 30, s: 10 } // of examples alone
watch(
  () => props.test.key,
  () => (told.value = ''),
)
function take(): void {
  const value = readingOf(text.value, props.test.unit, USUAL[props.test.unit] ?? 1)
  if (typeof value !== 'number') {
    told.value = value.told
    return
  }
  text.value = ''
  emit('read', value, props.test.key)
}
async function measure(): Promise<void> {
  if (by.value === undefined) return
  const test = props.test.key
  const found = await instruments.read(by.value, props.design, test)
  if (found) emit('read', found.value, test)
}
</script>

<template>
  <form class="own" data-own @submit.prevent="take">
    <p>
      <b>{{ said(test.text) }}</b> <span class="muted">{{ [test.state, test.where].filter(Boolean).join(' · ') }}</span>
    </p>
    <button
      v-if="by"
      type="button"
      class="link"
      :disabled="instruments.busy.value || busy"
      data-own-read
      @click="measure"
    >
      {{ instruments.busy.value ? 'Reading…' : `Read ${by.instrument.name}` }}
    </button>
    <label
      >Your reading, {{ unitSaid(test.unit) }}
      <input v-model="text" type="text" inputmode="decimal" autocomplete="off" />
    </label>
    <button type="submit" class="link" :disabled="busy">Note it</button>
    <button type="button" class="link" @click="emit('leave')">leave it</button>
    <p v-if="told || instruments.trouble.value" class="stop" role="alert">■ {{ told || instruments.trouble.value }}</p>
  </form>
</template>

<style scoped>
.own {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  padding: 8px;
  border: 2px solid var(--copper);
  border-radius: 4px;
  font-size: var(--text);
}
.own p {
  flex: 1 0 100%;
}
input {
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  color: inherit;
  font: inherit;
  min-height: 36px;
  width: 110px;
  padding: 4px 8px;
}
.link {
  min-height: 36px;
}
</style>
