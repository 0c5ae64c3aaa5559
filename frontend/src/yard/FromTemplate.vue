<script setup lang="ts">
/** A job begun from a template: the same work, everything measured there to be measured again. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '../api/client'
import Select from '../ui/prime/select'

const chosen = defineModel<number | null>({ required: true })
const { data } = useQuery({
  queryKey: ['yard', 'templates'],
  queryFn: () =>
    answered(client.GET('/api/jobs', { params: { query: { stands: 'template', order: 'title', rows: 200 } } })),
  gcTime: 0,
})
const templates = computed(() => [
  { value: null, label: 'nothing' },
  ...(data.value?.jobs ?? []).map((job) => ({
    value: job.id,
    label: `${job.title}${job.code ? ` (${job.code})` : ''}`,
  })),
])
</script>

<template>
  <div v-if="templates.length > 1" class="pair">
    <label for="new-template">Begin from</label>
    <Select
      v-model="chosen"
      input-id="new-template"
      aria-label="Begin from"
      :options="templates"
      option-label="label"
      option-value="value"
      size="small"
      data-from-template
    />
  </div>
</template>
