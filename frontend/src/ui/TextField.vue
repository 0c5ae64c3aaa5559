<script setup lang="ts">
/** A word or two, at a path of the design; called what the model calls it. */
import InputText from 'primevue/inputtext'
import { computed, useId } from 'vue'
import { useJob } from '../job/store'
import { fieldAt } from './fields'

const props = defineProps<{ path: string }>()
const job = useJob()
const id = useId()
const field = computed(() => fieldAt(job.design, props.path))
const error = computed(() => job.errors.get(props.path)?.message)
const text = computed({
  get: () => String(job.valueAt(props.path) ?? ''),
  set: (value: string) => {
    job.change([{ path: props.path, value }], props.path)
  },
})
</script>

<template>
  <div class="field" :data-path="path">
    <label :for="id" :title="field.help">{{ field.label }}</label>
    <InputText :id="id" v-model="text" size="small" autocomplete="off" :invalid="!!error" />
    <p v-if="error" class="error" role="alert">{{ error }}</p>
  </div>
</template>

<style scoped>
.field :deep(input) {
  width: 100%;
  min-width: 0;
}
</style>
