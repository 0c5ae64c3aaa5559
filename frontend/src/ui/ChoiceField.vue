<script setup lang="ts">
/** One of a few choices, at a path of the design. */
import Select from 'primevue/select'
import { computed, useId } from 'vue'
import { useJob } from '../job/store'

export interface Option { value: unknown; label: string }
const props = defineProps<{ path: string; label: string; options: Option[] }>()
const job = useJob()
const id = useId()
const chosen = computed({ get: () => job.valueAt(props.path), set: (value: unknown) => { job.change([{ path: props.path, value }]) } })
const fault = computed(() => job.faults.get(props.path))
</script>

<template>
  <div class="field" :data-path="path">
    <label :id="`${id}-label`" :for="id">{{ label }}</label>
    <Select v-model="chosen" :input-id="id" :aria-labelledby="`${id}-label`" :options="options" option-label="label" option-value="value" size="small" :placeholder="options.find((item) => item.value === null)?.label" :invalid="!!fault" />
    <p v-if="fault" class="fault" role="alert">{{ fault.message }}</p>
  </div>
</template>

<style scoped>
.field { display: grid; grid-template-columns: minmax(60px, 1fr) minmax(96px, 160px); align-items: center; gap: 2px 6px; min-height: 29px; }
label { font-size: 13px; color: var(--muted); line-height: 1.15; }
.field :deep(.p-select) { width: 100%; min-width: 0; }
.fault { grid-column: 1 / -1; color: var(--madder); font-size: 12.5px; }
</style>
