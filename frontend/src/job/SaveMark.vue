<script setup lang="ts">
/** Whether what is on the screen is stored. */
import { computed, defineAsyncComponent, ref } from 'vue'
import { useFocusBack } from '../ui/focusBack'
import { lately } from '../ui/locale'
import { useJob } from './store'

const ToMend = defineAsyncComponent(() => import('./ToMend.vue'))
const job = useJob()
const asked = ref(false)
useFocusBack(asked, true)
const words = computed(() => {
  switch (job.saveState) {
    case 'saved':
      return job.savedAt ? `Saved ${lately(job.savedAt)}` : 'Saved'
    case 'saving':
    case 'waiting':
      return job.unkept ? 'Saving… This browser keeps no copy' : 'Saving…'
    case 'held':
      return `${job.trouble}: kept here, trying again`
    case 'offline':
      return job.unkept ? 'No server: do not close this page' : 'No server: kept here, trying again'
    case 'stale':
      return 'Saved elsewhere since'
    default:
      return `${job.errors.size} to mend, not saved yet`
  }
})
</script>

<template>
  <span class="mark" :class="job.saveState" :title="job.trouble" role="status" tabindex="-1" :data-save="job.saveState">
    <button v-if="job.saveState === 'invalid'" type="button" class="link" aria-haspopup="dialog" @click="asked = true">
      {{ words }}</button><template v-else>{{ words }}</template>
  </span>
  <ToMend v-if="asked" v-model="asked" />
</template>

<style scoped>
.link {
  color: inherit;
  font: inherit;
  min-height: 24px;
}
.mark {
  font-size: var(--text);
  color: var(--muted);
  white-space: nowrap;
}
.invalid,
.offline,
.held,
.stale {
  color: var(--madder);
  font-weight: 600;
}
@media (max-width: 700px) {
  .link {
    min-height: 44px;
  }
}
</style>
