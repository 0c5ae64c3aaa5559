<script setup lang="ts">
/** One of a few choices, at a path of the design; called what the model calls it. */
import { computed } from 'vue'
import { useJob } from '../job/store'
import { fieldAt } from './fields'
import SelectField, { type Option } from './SelectField.vue'

const props = defineProps<{ path: string; options?: Option[] }>()
const job = useJob()
const field = computed(() => fieldAt(job.design, props.path))
const chosen = computed({
  get: () => job.valueAt(props.path),
  set: (value: unknown) => {
    job.change([{ path: props.path, value }])
  },
})
</script>

<template>
  <SelectField
    v-model="chosen"
    :data-path="path"
    :label="field.label"
    :help="field.help"
    :options="options ?? field.choices ?? []"
    :error="job.errors.get(path)?.message"
  />
</template>
