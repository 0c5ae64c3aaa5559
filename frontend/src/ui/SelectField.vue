<script setup lang="ts" generic="T">
/** One of a few choices under a label: what it is called, what may be chosen, and what is wrong with it. */
import Select from 'primevue/select'
import { computed, useId } from 'vue'

export interface Option {
  value: unknown
  label: string
}
const chosen = defineModel<T>({ required: true })
const props = withDefaults(
  defineProps<{ label: string; options: readonly Option[]; help?: string; error?: string; placeholder?: string }>(),
  { help: '', error: '', placeholder: '' },
)
const id = useId()
const choices = computed(() => [...props.options])
const standing = computed(
  () => props.placeholder || props.options.find((item) => item.value === null || item.value === '')?.label,
)
</script>

<template>
  <div class="field">
    <label :id="`${id}-label`" :for="id" :title="help">{{ label }}</label>
    <Select
      v-model="chosen"
      :input-id="id"
      :aria-labelledby="`${id}-label`"
      :options="choices"
      option-label="label"
      option-value="value"
      size="small"
      :placeholder="standing"
      :invalid="error !== ''"
    />
    <p v-if="error" class="error" role="alert">{{ error }}</p>
  </div>
</template>

<style scoped>
.field :deep(.p-select) {
  width: 100%;
  min-width: 0;
}
</style>
