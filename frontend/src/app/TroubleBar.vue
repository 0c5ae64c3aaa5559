<script setup lang="ts">
/** What failed and no screen speaks of itself: an answer that is missing, and what was pressed and not done. */
import { useQueryClient } from '@tanstack/vue-query'
import { watch } from 'vue'
import { useRoute } from 'vue-router'
import { askAgain, missing, undone } from '../api/unsaid'

const queries = useQueryClient()
const route = useRoute()
watch(
  () => route.path,
  () => (undone.value = ''),
)
</script>

<template>
  <p v-if="undone" class="stop mark" role="alert" data-undone>
    ■ {{ undone }} <button type="button" class="link" @click="undone = ''">Close</button>
  </p>
  <p v-if="missing" class="caution mark" role="alert" data-missing>
    ▲ Part of this page is missing. {{ missing }}
    <button type="button" class="link" @click="askAgain(queries)">Ask again</button>
  </p>
</template>

<style scoped>
.mark {
  position: sticky;
  top: 0;
  z-index: 5;
  background: var(--paper);
  padding: 4px 20px;
  border-bottom: 1px solid var(--hair);
}
</style>
