<script setup lang="ts">
/** The day to drive: from the library, as text or on a timeline, and what is wrong with it. */
import { useStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { EntryError } from '../../api/types'
import DayBuilder from '../../trip/DayBuilder.vue'
import { useProgrammes } from '../../trip/library'
import ChoiceField from '../../ui/ChoiceField.vue'
import Select from '../../ui/prime/select'
import Textarea from '../../ui/prime/textarea'

const props = defineProps<{ first: string; errors: EntryError[] }>()
const text = defineModel<string>({ required: true })
const library = useProgrammes()
const names = computed(() => Object.keys(library.value?.programmes ?? {}).map((name) => ({ value: name, label: name })))
const mode = useStorage<'text' | 'blocks'>('olvask.programme.mode', 'text')
const chosen = ref<string | null>(null)
const built = computed({
  get: () => text.value.trim() || props.first,
  set: (next: string) => {
    text.value = next
  },
})
function take(name: string | null): void {
  if (name) text.value = library.value?.programmes[name] ?? ''
}
</script>

<template>
  <section class="panel" aria-label="Programme">
    <div class="bench-head">
      <h2>The day</h2>
      <span class="modes" role="tablist" aria-label="How to write it"
        ><button
          v-for="way in ['text', 'blocks'] as const"
          :key="way"
          type="button"
          role="tab"
          class="plain"
          :aria-selected="mode === way"
          :data-mode="way"
          @click="mode = way"
        >
          {{ way === 'text' ? 'as text' : 'on a timeline' }}
        </button></span
      >
    </div>
    <Select
      v-model="chosen"
      :options="names"
      option-label="label"
      option-value="value"
      size="small"
      placeholder="from the library"
      aria-label="Programme from the library"
      @update:model-value="take"
    />
    <Textarea
      v-if="mode === 'text'"
      v-model="text"
      rows="8"
      class="day"
      :placeholder="first"
      aria-label="Programme, one stretch a line"
      spellcheck="false"
      :invalid="errors.length > 0"
    />
    <DayBuilder v-else v-model="built" class="day" />
    <ul v-if="errors.length" class="errors" role="alert">
      <li v-for="wrong in errors" :key="wrong.field + wrong.message">
        <b>{{ wrong.field }}</b>: {{ wrong.message }}
      </li>
    </ul>
    <p v-else-if="mode === 'text'" class="muted small">
      One stretch a line: off, crank, idle, cruise, low; s, min, h, d; then load 4 A, sun 80 W, ambient -5 °C,
      unplugged. repeat 6 … end.
    </p>
    <p v-else class="muted small">← → walks, ↑ ↓ or the edge changes how long, Alt ← → moves, Delete takes out.</p>
    <ChoiceField path="charge.profile" />
  </section>
</template>

<style scoped>
.day {
  width: 100%;
  margin-top: 6px;
}
textarea.day {
  font-family: var(--narrow);
  font-size: var(--text);
  line-height: 1.3;
}
.modes {
  display: flex;
  gap: 8px;
  font-size: var(--text);
}
.modes button {
  color: var(--muted);
  border-bottom: 2px solid transparent;
}
.modes [aria-selected='true'] {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--copper);
}
.errors {
  color: var(--madder);
  font-size: var(--text);
  padding-left: 16px;
  margin: 6px 0 0;
}
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin: 6px 0;
}
section :deep(.p-select) {
  width: 100%;
}
@media (max-width: 1100px) {
  .modes button {
    min-height: 44px;
  }
}
</style>
