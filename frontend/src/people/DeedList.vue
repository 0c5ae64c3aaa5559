<script setup lang="ts">
/** Who did what, the latest first, a page at a time. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client } from '../api/client'
import Button from '../ui/prime/button'
import { dateClock } from '../ui/locale'

const ROWS = 20
const begin = ref(0)
const open = ref(false)
const { data } = useQuery({
  queryKey: computed(() => ['deeds', begin.value]),
  queryFn: () => answered(client.GET('/api/deeds', { params: { query: { begin: begin.value, rows: ROWS } } })),
  enabled: open,
  placeholderData: keepPreviousData,
  gcTime: 0,
})
</script>

<template>
  <details @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>Who did what</summary>
    <p v-if="data?.total === 0" class="muted">Nothing is noted yet.</p>
    <ol v-else>
      <li v-for="(deed, at) in data?.deeds ?? []" :key="begin + at" data-deed>
        <span class="muted">{{ dateClock(deed.at) }}</span> <b>{{ deed.person }}</b> {{ deed.what }}
        <RouterLink v-if="deed.job !== null" :to="`/job/${deed.job}/handover`">job {{ deed.job }}</RouterLink>
      </li>
    </ol>
    <nav v-if="(data?.total ?? 0) > ROWS" aria-label="Pages of what was done">
      <Button
        label="Later"
        size="small"
        severity="secondary"
        variant="outlined"
        :disabled="begin === 0"
        @click="begin -= ROWS"
      />
      <Button
        label="Earlier"
        size="small"
        severity="secondary"
        variant="outlined"
        :disabled="begin + ROWS >= (data?.total ?? 0)"
        @click="begin += ROWS"
      />
    </nav>
  </details>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 6px 0;
  padding: 0;
  display: grid;
  gap: 3px;
}
nav {
  display: flex;
  gap: 8px;
}
</style>
