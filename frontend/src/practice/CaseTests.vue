<script setup lang="ts">
/** What can be measured, with the minutes each takes; what was read stands beside it. */
import { computed, ref } from 'vue'
import { entered, said } from '../ui/locale'
import OwnReading from './OwnReading.vue'
import { reading } from './names'
import type { CaseState, Move } from './useCase'

const props = defineProps<{
  tests: CaseState['tests']
  read: ReadonlyMap<string, CaseState['told'][number]>
  design: CaseState['design']
  busy: boolean
}>()
const own = defineModel<boolean>('own', { required: true })
const asked = ref('')
const open = computed(() => props.tests.find((test) => test.key === asked.value))
const emit = defineEmits<{ act: [move: Move] }>()
const HANDLING = 3
const GROUPS: Record<string, string> = {
  dead: 'Dead, both batteries off',
  engine_off: 'Engine off',
  running: 'Running',
  after: 'After',
  finding: 'To tell causes apart',
}
const parts = computed(() =>
  Object.entries(GROUPS)
    .map(([key, label]) => ({ key, label, tests: props.tests.filter((test) => test.group === key) }))
    .filter((part) => part.tests.length > 0),
)
function measure(test: CaseState['tests'][number]): void {
  if (own.value && test.unit !== '') asked.value = test.key
  else emit('act', { kind: 'measure', what: test.key })
}
function took(value: number, test: string): void {
  emit('act', { kind: 'measure', what: test, value })
  if (asked.value === test) asked.value = ''
}
function shown(key: string): string {
  const found = props.read.get(key)
  if (found === undefined) return ''
  return found.value === null ? found.answer : reading(found.value, found.unit)
}
</script>

<template>
  <section class="panel" aria-label="Measure">
    <div class="bench-head">
      <h2>Measure</h2>
      <button
        type="button"
        class="link"
        :disabled="busy"
        data-check
        @click="emit('act', { kind: 'check_meter', what: '' })"
      >
        check the meter, 3 min
      </button>
    </div>
    <label class="own"
      ><input v-model="own" type="checkbox" data-own-mode /> I measure myself, on the rig or a bench</label
    >
    <OwnReading v-if="own && open" :test="open" :design="design" :busy="busy" @read="took" @leave="asked = ''" />
    <template v-for="part in parts" :key="part.key">
      <h3>{{ part.label }}</h3>
      <button
        v-for="test in part.tests"
        :key="test.key"
        type="button"
        class="test"
        :data-measure="test.key"
        :title="[test.state, test.where].filter(Boolean).join(' · ')"
        :disabled="busy"
        @click="measure(test)"
      >
        <span>{{ said(test.text) }}</span>
        <b v-if="shown(test.key)" data-value>{{ shown(test.key) }}</b>
        <small v-else class="muted">{{ entered(test.minutes + HANDLING) }}&nbsp;min</small>
      </button>
    </template>
  </section>
</template>

<style scoped>
.panel {
  padding: 8px 14px;
}
h2 {
  font-size: var(--head);
}
h3 {
  font-size: var(--text);
  color: var(--muted);
  font-weight: 600;
  margin: 8px 0 2px;
}
.own {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
  font-size: var(--text);
}
.test {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  width: 100%;
  min-height: 30px;
  padding: 4px 6px;
  border: 0;
  border-top: 1px solid var(--hair);
  background: none;
  color: inherit;
  font: inherit;
  font-size: var(--text);
  text-align: left;
  cursor: pointer;
}
.test:hover {
  background: var(--field);
}
small,
b {
  white-space: nowrap;
}
@media (max-width: 700px) {
  .test {
    min-height: 46px;
    align-items: center;
  }
  .link {
    min-height: 44px;
  }
}
</style>
