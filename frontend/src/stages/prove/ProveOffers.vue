<script setup lang="ts">
/** What was measured here and the survey only supposes: taken over by one press, and undone like any change. */
import type { Proof } from '../../api/types'
import { useJob } from '../../job/store'
import { measured } from '../../ui/format'

defineProps<{ offers: Proof['offers'] }>()
const job = useJob()
const shown = (value: number, unit: string) => measured(value, unit, unit === 'V' ? 2 : 1)
function take(offer: Proof['offers'][number]): void {
  job.change([
    { path: offer.path, value: offer.value },
    { path: 'provenance', value: job.withProvenance(offer.path, 'measured') },
  ])
}
</script>

<template>
  <div class="offers">
    <h3>Measured here, for the survey</h3>
    <p v-for="offer in offers" :key="offer.path" :data-offer="offer.path">
      {{ offer.label }}: <b>{{ shown(offer.value, offer.unit) }}</b>
      <span class="muted">instead of {{ shown(offer.stands, offer.unit) }}, {{ offer.origin }}</span>
      <button type="button" class="link" :aria-label="`take ${offer.label} into the survey`" @click="take(offer)">
        take it
      </button>
    </p>
  </div>
</template>

<style scoped>
.offers {
  margin-top: 10px;
  display: grid;
  gap: 2px;
  font-size: var(--text);
}
@media (max-width: 700px) {
  .link {
    min-height: 44px;
    min-width: 60px;
  }
}
</style>
