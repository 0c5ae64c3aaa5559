<script setup lang="ts">
/** A yes or no, at a path of the design. */
import Checkbox from 'primevue/checkbox'
import { computed, useId } from 'vue'
import { useJob } from '../job/store'

const props = defineProps<{ path: string; label: string }>()
const job = useJob()
const id = useId()
const ticked = computed({ get: () => job.valueAt(props.path) === true, set: (value: boolean) => { job.change([{ path: props.path, value }]) } })
</script>

<template>
  <div class="tick" :data-path="path">
    <Checkbox v-model="ticked" :input-id="id" binary size="small" />
    <label :for="id">{{ label }}</label>
  </div>
</template>

<style scoped>
.tick { display: flex; align-items: center; gap: 8px; min-height: 27px; font-size: 13px; }
</style>
