<script setup lang="ts">
/** Hold this job on this device, so that it opens at the vehicle without signal. */
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { useJob } from '../job/store'
import { dateClock } from '../ui/locale'
import WorkProgress from '../ui/WorkProgress.vue'
import { useBuildLog } from '../stages/build/buildLog'
import { useReadings } from '../stages/prove/readings'
import { questionsOf, useKeeping } from './keeping'
import { canKeep } from './signal'

const job = useJob()
const { readings } = useReadings(useBuildLog())
const held = useLocalStorage<Record<string, string>>('olvask.held', {})
const { done, trouble, keep, stop } = useKeeping()
const since = computed(() => held.value[String(job.id)])
const when = computed(() => (since.value ? dateClock(since.value) : ''))
async function hold(): Promise<void> {
  if (job.design === null) return
  const mine = job.id
  if (await keep(questionsOf(mine, job.design, readings.value)))
    held.value = { ...held.value, [String(mine)]: new Date().toISOString() }
}
</script>

<template>
  <section class="panel stacked" aria-label="At the vehicle">
    <div class="bench-head"><h2>At the vehicle</h2></div>
    <template v-if="canKeep">
      <p v-if="when" class="good" data-held>✓ held on this device as of {{ when }}</p>
      <p class="muted">
        Held here, this job opens without signal: procedure, diagram, tests and settings. What is noted then is handed
        in later; what has not been worked out before says that it cannot be judged.
      </p>
      <WorkProgress v-if="done < 1" :done="done" what="Holding it" @stop="stop" />
      <button v-else type="button" class="link" data-hold :disabled="job.design === null" @click="hold">
        {{ when ? 'Hold it anew' : 'Hold it on this device' }}
      </button>
      <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
    </template>
    <p v-else class="muted">
      This device can hold jobs without signal once Olvask is served over TLS; an open page keeps what is noted either
      way.
    </p>
  </section>
</template>

<style scoped>
@media (max-width: 700px) {
  .link {
    min-height: 44px;
  }
}
</style>
