<script setup lang="ts">
/** No signal: what is shown was kept here, and as of when. */
import { clock } from '../ui/locale'
import { asOf } from './signal'
</script>

<template>
  <p v-if="asOf" class="caution mark" role="status" data-no-signal>
    ▲ No signal. What you see was held at {{ clock(asOf) }}; what you note is handed in later.
  </p>
</template>

<style scoped>
.mark {
  padding: 4px 20px;
  border-bottom: 1px solid var(--hair);
}
</style>
