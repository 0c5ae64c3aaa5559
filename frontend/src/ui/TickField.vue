<script setup lang="ts">
/** A yes or no, at a path of the design; called what the model calls it. */
import Checkbox from 'primevue/checkbox'
import { computed, useId } from 'vue'
import { useJob } from '../job/store'
import { fieldAt } from './fields'

const props = defineProps<{ path: string }>()
const job = useJob()
const id = useId()
const field = computed(() => fieldAt(job.design, props.path))
const ticked = computed({
  get: () => job.valueAt(props.path) === true,
  set: (value: boolean) => {
    job.change([{ path: props.path, value }])
  },
})
</script>

<template>
  <div class="tick" :data-path="path" :title="field.help">
    <Checkbox v-model="ticked" :input-id="id" binary size="small" />
    <label :for="id">{{ field.label }}</label>
  </div>
</template>

<style scoped>
.tick {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 27px;
}
.tick label {
  color: inherit;
}
</style>
