<script setup lang="ts">
/** The button that says a step is done, with whose initials, and what comes next. */
import type { Placed, StepState } from '../../api/types'
import { said } from '../../ui/locale'
import { useJustChanged } from '../../ui/once'
import { initials } from '../settings/keyed'

const props = defineProps<{ step: string; state: StepState | undefined; next: Placed | undefined }>()
const emit = defineEmits<{ finish: []; goOn: [] }>()
/** Nobody has read a step that has just come: it is not done by the second tap on the one before. */
const fresh = useJustChanged(() => props.step)
function finish(): void {
  if (!fresh.value) emit('finish')
}
</script>

<template>
  <div class="finish">
    <label v-if="initials.trim() === ''" class="initials"
      >Your initials <input v-model.lazy="initials" type="text" maxlength="12" autocomplete="off"
    /></label>
    <button
      v-if="state?.state !== 'done'"
      type="button"
      class="done"
      :aria-disabled="fresh || undefined"
      @click="finish"
    >
      <b>Done{{ initials ? ` · ${initials}` : '' }}</b>
      <small>{{ next ? `next: ${said(next.step.text)}` : 'the last one' }}</small>
    </button>
    <button v-else-if="next" type="button" class="done on" @click="$emit('goOn')">
      <b>Next</b><small>{{ said(next.step.text) }}</small>
    </button>
  </div>
</template>

<style scoped>
.finish {
  display: grid;
  gap: 8px;
  position: sticky;
  bottom: -14px;
  background: var(--panel);
  padding: 6px 0 14px;
}
.initials input {
  width: 90px;
  min-height: 36px;
  background: var(--field);
  border: 1px solid var(--edge);
  border-radius: 3px;
  padding: 4px 8px;
}
.done {
  background: var(--copper);
  color: var(--panel);
  border: 0;
  border-radius: 4px;
  padding: 12px 14px;
  display: grid;
  gap: 2px;
  min-height: 56px;
  font-size: var(--head);
  cursor: pointer;
}
.done.on {
  background: var(--teal);
}
@media (max-width: 700px) {
  .finish {
    background: var(--paper);
    bottom: 0;
    padding-bottom: 4px;
  }
  .done {
    min-height: 72px;
    font-size: var(--title);
  }
  .done small {
    font-size: var(--lead);
  }
  .initials input {
    min-height: 44px;
  }
}
</style>
