<script setup lang="ts">
/** The control of one field of a shelf item: choice, tick, ticks, lines, number or text. */
import { computed } from 'vue'
import InputText from '../ui/prime/inputtext'
import Select from '../ui/prime/select'
import Textarea from '../ui/prime/textarea'
import type { FormField } from './entries'

defineProps<{ field: FormField; invalid: boolean }>()
const entry = defineModel<unknown>({ required: true })
const text = computed({
  get: () => String(entry.value ?? ''),
  set: (typed: string) => {
    entry.value = typed
  },
})
const several = computed(() => (Array.isArray(entry.value) ? (entry.value as unknown[]) : []))
function toggled(choice: unknown, on: boolean): void {
  entry.value = on ? [...several.value, choice] : several.value.filter((item) => item !== choice)
}
</script>

<template>
  <Select
    v-if="field.kind === 'choice'"
    v-model="entry"
    :input-id="`f-${field.path}`"
    :aria-labelledby="`l-${field.path}`"
    :options="field.choices ?? []"
    option-label="label"
    option-value="value"
    size="small"
  />
  <input
    v-else-if="field.kind === 'tick'"
    :id="`f-${field.path}`"
    type="checkbox"
    :checked="entry === true"
    @change="entry = ($event.target as HTMLInputElement).checked"
  />
  <span v-else-if="field.kind === 'choices'" class="ticks"
    ><label v-for="choice in field.choices" :key="String(choice.value)"
      ><input
        type="checkbox"
        :checked="several.includes(choice.value)"
        @change="toggled(choice.value, ($event.target as HTMLInputElement).checked)"
      />
      {{ choice.label }}</label
    ></span
  >
  <Textarea
    v-else-if="field.kind === 'texts' || field.kind === 'numbers'"
    :id="`f-${field.path}`"
    v-model="text"
    rows="2"
    placeholder="one a line"
    :invalid="invalid"
  />
  <InputText
    v-else
    :id="`f-${field.path}`"
    v-model="text"
    size="small"
    autocomplete="off"
    :inputmode="field.kind === 'text' ? 'text' : 'decimal'"
    :invalid="invalid"
  />
</template>

<style scoped>
.ticks {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}
input[type='checkbox'] {
  width: 18px;
  height: 18px;
  accent-color: var(--copper);
  vertical-align: -4px;
}
</style>
