<script setup lang="ts">
/** What can be done to the vehicle, what that costs, and handing it back. */
import { computed, ref } from 'vue'
import { money } from '../ui/format'
import { entered, said } from '../ui/locale'
import type { CaseState, Move } from './useCase'

const props = defineProps<{ cures: CaseState['cures']; busy: boolean }>()
const emit = defineEmits<{ act: [move: Move] }>()
const chosen = ref('')
const cure = computed(() => props.cures.find((item) => item.key === chosen.value))
function mend(): void {
  if (cure.value === undefined) return
  emit('act', { kind: 'mend', what: cure.value.key })
  chosen.value = ''
}
</script>

<template>
  <section class="panel" aria-label="Mend">
    <h2>Mend</h2>
    <p class="muted">
      What is wrong, in your judgement? What was read before a repair no longer counts: prove it again.
    </p>
    <label
      >It is
      <select v-model="chosen" data-cure>
        <option value="" disabled>choose</option>
        <option v-for="item in cures" :key="item.key" :value="item.key">{{ item.words }}</option>
      </select>
    </label>
    <p v-if="cure" class="text">{{ said(cure.text) }}</p>
    <button type="button" class="do" :disabled="busy || !cure" data-mend @click="mend">
      {{ cure ? `Do it: ${entered(cure.minutes)} min, ${money(cure.price)}` : 'Do it' }}
    </button>
    <button
      type="button"
      class="back"
      :disabled="busy"
      data-hand-back
      @click="emit('act', { kind: 'hand_back', what: '' })"
    >
      Hand the vehicle back
    </button>
  </section>
</template>

<style scoped>
.panel {
  padding: 8px 14px 14px;
  display: grid;
  gap: 8px;
}
h2 {
  font-size: var(--head);
}
select {
  display: block;
  width: 100%;
  min-height: 40px;
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  color: inherit;
  font: inherit;
  padding: 4px 8px;
}
.do,
.back {
  min-height: 44px;
  border-radius: 4px;
  font: inherit;
  font-weight: 600;
  cursor: pointer;
}
.do {
  border: 0;
  background: var(--copper);
  color: var(--panel);
}
.do:disabled {
  background: var(--field);
  color: var(--muted);
  cursor: default;
}
.back {
  border: 2px solid var(--teal);
  background: none;
  color: var(--teal);
}
</style>
