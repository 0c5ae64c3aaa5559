<script setup lang="ts">
/** One of a few choices, at a path of the design; called what the model calls it. */
import Select from 'primevue/select'
import { computed, useId } from 'vue'
import { useJob } from '../job/store'
import { fieldAt } from './fields'

export interface Option {
  value: unknown
  label: string
}
const props = defineProps<{ path: string; options?: Option[] }>()
const job = useJob()
const id = useId()
const field = computed(() => fieldAt(job.design, props.path))
const choices = computed(() => props.options ?? field.value.choices ?? [])
const standing = computed(() => choices.value.find((item) => item.value === null)?.label)
const chosen = computed({
  get: () => job.valueAt(props.path),
  set: (value: unknown) => {
    job.change([{ path: props.path, value }])
  },
})
const error = computed(() => job.errors.get(props.path))
</script>

<template>
  <div class="field" :data-path="path">
    <label :id="`${id}-label`" :for="id" :title="field.help">{{ field.label }}</label>
    <Select
      v-model="chosen"
      :input-id="id"
      :aria-labelledby="`${id}-label`"
      :options="choices"
      option-label="label"
      option-value="value"
      size="small"
      :placeholder="standing"
      :invalid="!!error"
    />
    <p v-if="error" class="error" role="alert">{{ error.message }}</p>
  </div>
</template>

<style scoped>
.field {
  display: grid;
  grid-template-columns: minmax(max-content, 1fr) minmax(90px, 160px);
  align-items: center;
  gap: 2px 6px;
  min-height: 29px;
}
.field :deep(.p-select) {
  width: 100%;
  min-width: 0;
}
.error {
  grid-column: 1 / -1;
}
</style>
