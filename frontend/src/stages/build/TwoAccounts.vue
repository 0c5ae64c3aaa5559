<script setup lang="ts">
/** Two who noted otherwise without knowing of each other, side by side; one press says whose counts. */
import type { NewEntry, StepState } from '../../api/types'
import { dateClock } from '../../ui/locale'
import { measured } from '../../ui/format'

defineProps<{ state: StepState | undefined }>()
const emit = defineEmits<{ settle: [kind: NewEntry['kind'], more: Partial<NewEntry>] }>()
type Entry = StepState['entries'][number]
const words = (entry: Entry): string =>
  entry.kind === 'reading' ? measured(entry.value ?? 0, entry.unit, 2) : entry.kind === 'done' ? 'done' : 'skipped'
function take(entry: Entry): void {
  const text = entry.kind === 'skip' ? entry.text : `settled: ${entry.by}'s counts`
  emit('settle', entry.kind, { text, value: entry.value ?? null, unit: entry.unit })
}
</script>

<template>
  <section v-if="state?.accounts?.length" class="two" aria-label="Two accounts" data-accounts>
    <p class="caution">▲ Noted twice without knowing of each other. Look again if in doubt; whose counts?</p>
    <div class="sides">
      <button
        v-for="entry in state.accounts"
        :key="entry.id"
        type="button"
        :data-account="entry.by"
        @click="take(entry)"
      >
        <b>{{ words(entry) }}</b>
        <small
          >{{ entry.by || 'somebody' }}, {{ dateClock(entry.at)
          }}{{ entry.kind === 'skip' ? `: ${entry.text}` : '' }}</small
        >
        <span class="link">This one counts</span>
      </button>
    </div>
  </section>
</template>

<style scoped>
.sides {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
button {
  display: grid;
  gap: 2px;
  min-height: 72px;
  padding: 8px 10px;
  border: 2px solid var(--ochre);
  border-radius: 4px;
  background: var(--field);
  cursor: pointer;
  text-align: left;
  color: var(--ink);
}
b {
  font-size: var(--title);
}
</style>
