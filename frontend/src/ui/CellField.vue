<script setup lang="ts">
/** One entry without a label beside it, for rows of a list: number, text, choice or tick at a path of the design. */
import { entered } from './locale'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { useJob } from '../job/store'
import { fieldAt } from './fields'
import { asTyped } from './number'
import { readIn, standing } from './units'

export interface Column {
  key: string
  kind: 'number' | 'text' | 'choice' | 'tick'
  width?: string
  placeholder?: string
  /** The entry this one stands in for: a value here clears it. */
  instead?: string
  /** Rows this entry belongs to; all where absent. */
  when?: (row: Record<string, unknown>) => boolean
}
const props = defineProps<{ path: string; column: Column; name: string }>()
const job = useJob()
const field = computed(() => fieldAt(job.design, props.path))
const raw = computed(() => job.valueAt(props.path))
const typed = ref<string | null>(null)
const text = computed(() => {
  if (
    typed.value !== null &&
    (props.column.kind === 'text' ? typed.value : readIn(typed.value, field.value.unit)) === (raw.value ?? null)
  )
    return typed.value
  return typeof raw.value === 'number'
    ? entered(standing(raw.value, field.value.unit ?? ''))
    : asTyped(String(raw.value ?? ''))
})
const error = computed(() => job.errors.get(props.path))
function enter(event: Event): void {
  const entry = (event.target as HTMLInputElement).value
  typed.value = entry
  const { kind, instead } = props.column
  const other = instead === undefined ? null : props.path.replace(/[^.]+$/, instead)
  const value = readIn(entry, field.value.unit)
  if (kind === 'text') job.change([{ path: props.path, value: entry }], props.path)
  else if (other !== null && value !== null && (job.valueAt(other) ?? null) !== null)
    job.change(
      [
        { path: props.path, value },
        { path: other, value: null },
      ],
      props.path,
    )
  else job.enter(props.path, entry)
}
const chosen = computed({
  get: () => raw.value ?? null,
  set: (value: unknown) => {
    job.change([{ path: props.path, value }])
  },
})
const ticked = computed({
  get: () => raw.value === true,
  set: (value: boolean) => {
    job.change([{ path: props.path, value }])
  },
})
</script>

<template>
  <div class="cell" :data-path="path">
    <Select
      v-if="column.kind === 'choice'"
      v-model="chosen"
      :options="field.choices"
      option-label="label"
      option-value="value"
      size="small"
      :aria-label="name"
      :invalid="!!error"
    />
    <Checkbox v-else-if="column.kind === 'tick'" v-model="ticked" binary size="small" :aria-label="name" />
    <InputText
      v-else
      :model-value="text"
      size="small"
      autocomplete="off"
      :inputmode="column.kind === 'number' ? 'decimal' : 'text'"
      :placeholder="column.placeholder"
      :invalid="!!error"
      :aria-label="name"
      @input="enter"
      @blur="typed = null"
    />
    <p v-if="error" class="error" role="alert">{{ error.message }}</p>
  </div>
</template>

<style scoped>
.cell :deep(input[type='text']),
.cell :deep(.p-select) {
  width: 100%;
  min-width: 0;
}
</style>
